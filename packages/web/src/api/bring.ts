import { cancelJob, getJob, imported, sendMedium, type Imported } from '@wraithos/contract';
import { call, read } from './client';
import { followJob } from './events';
import { upload } from './upload';

/**
 * Brings files in as one medium, without a person who looks on: sends them and waits until the server has read them. Aborted, the
 * job on the server is cancelled too.
 * @param tell hears how far that is, 0..1. @throws an Error for people where they are refused, or it was cancelled.
 */
export async function bring(files: readonly File[], tell: (share: number) => void, signal: AbortSignal): Promise<Imported> {
  const { id } = await upload(files, (share) => tell(share / 2), signal, sendMedium),
    cancel = () => void call(cancelJob, { params: { id } }).catch(() => undefined);
  signal.addEventListener('abort', cancel, { once: true });
  if (signal.aborted) cancel();
  const over = await followJob(
    id,
    () => call(getJob, { params: { id } }),
    ({ done, total }) => tell(0.5 + done / Math.max(1, 2 * total)),
  );
  if (over.state !== 'done') throw new Error(over.message);
  return read(imported, over.result);
}
