import { useRef, useState } from 'react';
import { cancelJob, getJob, imported, sendMedium, type Imported, type JobSummary, type sendBundle } from '@wraithos/contract';
import type { z } from 'zod';
import { call, read, upload } from '../api/client';
import { followJob } from '../api/events';

export interface ImportState {
  label: string;
  done: number;
  total: number;
  message: string;
  secondsLeft: number | null;
}

/**
 * Brings files in: sends them, follows the server's reading, gives what became of them. Files with numbers that belong together are one sequence.
 * @param onNote hears what was done to a film so that it is frames of one size at one rate; told as an error is, where nothing is said.
 */
export const useImport = (onDone: (medium: Imported) => void, onError: (message: string) => void, onNote = onError) =>
  useUpload(
    sendMedium,
    imported,
    (medium) => {
      onDone(medium);
      if (medium.note) onNote(medium.note);
    },
    onError,
  );

/** Sends files and follows the job that reads them; gives its result, or why there is none. */
export function useUpload<Result extends z.ZodType>(
  to: typeof sendMedium | typeof sendBundle,
  result: Result,
  onDone: (result: z.output<Result>) => void,
  onError: (message: string) => void,
) {
  const [state, setState] = useState<ImportState | null>(null),
    control = useRef<AbortController | null>(null),
    job = useRef<string | null>(null);
  const start = async (files: File[]) => {
    if (files.length === 0) return;
    const abort = new AbortController();
    control.current = abort;
    const label = files.length === 1 ? files[0]!.name : `${files.length} files`;
    try {
      setState({ label, done: 0, total: 100, message: 'sending', secondsLeft: null });
      const sent: JobSummary = await upload(
        files,
        (share) =>
          setState({
            label,
            done: Math.round(share * 100),
            total: 100,
            message: `sending, ${Math.round(share * 100)} %`,
            secondsLeft: null,
          }),
        abort.signal,
        to,
      );
      job.current = sent.id;
      const over = await followJob(
        sent.id,
        () => call(getJob, { params: { id: sent.id } }),
        (now) => setState({ label, done: now.done, total: now.total, message: now.message, secondsLeft: now.secondsLeft }),
      );
      if (over.state === 'done') onDone(read(result, over.result));
      else onError(over.state === 'cancelled' ? 'Cancelled; nothing was kept.' : over.message);
    } catch (error) {
      onError((error as Error).message);
    }
    setState(null);
    job.current = null;
  };
  const cancel = () => {
    if (job.current) void call(cancelJob, { params: { id: job.current } }).catch(() => undefined);
    else control.current?.abort();
  };
  return { state, start, cancel };
}
