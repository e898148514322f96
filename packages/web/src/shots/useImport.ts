import { useRef, useState } from 'react';
import { cancelJob, getJob, imported, sendMedium, type Imported, type JobSummary, type sendBundle } from '@wraithos/contract';
import type { z } from 'zod';
import { call, read } from '../api/client';
import { followJob } from '../api/events';
import { upload } from '../api/upload';
import { drawer } from '../workers/pool';
import { groupsOf, type Found, type Group } from './groups';

export interface ImportState {
  label: string;
  done: number;
  total: number;
  message: string;
  secondsLeft: number | null;
  /** What is coming in, once its first picture can be seen. */
  coming?: Imported | null;
}

/**
 * Brings files in: sends them, follows the server's reading, gives what became of them. Stills whose numbers belong together are one sequence; several
 * media come in one after another.
 * @param wants what is looked for; the other kind is refused in words.
 * @param onNote hears what was done to a film so that it is frames of one size at one rate; told as an error is, where nothing is said.
 */
export function useImport(
  onDone: (medium: Imported) => void,
  onError: (message: string) => void,
  onNote = onError,
  wants: 'clip' | 'table' = 'clip',
) {
  const { state, start, cancel } = useUpload(
    sendMedium,
    imported,
    (medium) => {
      const table = medium.info.kind === 'table';
      if (table !== (wants === 'table')) {
        onError(
          table
            ? `${medium.name} is a table for colours. Choose it in the settings of a clip, as its camera table.`
            : `${medium.name} is no .cube table, so it cannot be one for colours.`,
        );
        return;
      }
      onDone(medium);
      if (medium.note) onNote(medium.note);
    },
    onError,
  );
  return { state, cancel, start: (found: readonly Found[]) => start(groupsOf(found)) };
}

/** Sends files and follows the jobs that read them, one after another; gives their results, or why there is none. */
export function useUpload<Result extends z.ZodType>(
  to: typeof sendMedium | typeof sendBundle,
  result: Result,
  onDone: (result: z.output<Result>) => void,
  onError: (message: string) => void,
) {
  const [state, setState] = useState<ImportState | null>(null),
    control = useRef<AbortController | null>(null),
    job = useRef<string | null>(null);
  const one = async ({ name, files }: Group, rest: number, abort: AbortController): Promise<void> => {
    const label = rest ? `${name}, then ${rest} more` : name,
      tell = (now: Omit<ImportState, 'label'>) => setState({ label, ...now });
    tell({ done: 0, total: 100, message: 'sending', secondsLeft: null });
    // What draws the first picture takes a third of a second to begin; it does so while the file is on its way.
    if (to.path === '/media') drawer();
    const sent: JobSummary = await upload(
      files,
      (share) => {
        const done = Math.round(share * 100);
        tell({ done, total: 100, message: `sending, ${done} %`, secondsLeft: null });
      },
      abort.signal,
      to,
    );
    job.current = sent.id;
    const look = () => call(getJob, { params: { id: sent.id } });
    let coming: Imported | null = null,
      looked = false;
    const over = await followJob(sent.id, look, (now) => {
      tell({ done: now.done, total: now.total, message: now.message, secondsLeft: now.secondsLeft, coming });
      if (looked || to.path !== '/media' || now.done < 1) return;
      looked = true;
      void look().then(
        (job) => {
          const medium = imported.safeParse(job.coming);
          if (!medium.success || medium.data.info.kind === 'table') return;
          coming = medium.data;
          // Not only with the next word of progress.
          setState((shown) => shown && { ...shown, coming });
        },
        () => undefined,
      );
    });
    job.current = null;
    if (over.state === 'done') onDone(read(result, over.result));
    else onError(over.state === 'cancelled' ? 'Cancelled; nothing was kept.' : over.message);
  };
  const start = async (groups: readonly Group[]) => {
    const abort = new AbortController();
    control.current = abort;
    for (const [i, group] of groups.entries()) {
      if (abort.signal.aborted) break;
      try {
        await one(group, groups.length - i - 1, abort);
      } catch (error) {
        onError((error as Error).message);
      }
    }
    setState(null);
    job.current = null;
  };
  const cancel = () => {
    control.current?.abort();
    if (job.current) void call(cancelJob, { params: { id: job.current } }).catch(() => undefined);
  };
  return { state, start, cancel };
}
