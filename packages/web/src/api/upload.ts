import { DetailedError, Upload } from 'tus-js-client';
import { UPLOADS, uploadIdOf, type JobSummary, type sendBundle, type sendMedium, type SentFiles } from '@wraithos/contract';
import { ApiError, call, refusal } from './client';

/** Files that are sent at one time: pictures of a sequence are many and small. */
const AT_ONCE = 4;
/** Bytes of one request: progress is told truly, and a page that was closed has most of a large file behind it. */
const PIECE = 8 * 2 ** 20;
/** Waits between tries after a connection broke, milliseconds; then it is said, and sending the file again goes on where it stopped. */
const TRIES = [0, 500, 1000, 2000, 4000, 8000];

/** One file, or the rest of it where a part came before. Gives its id at the server. */
function sendOne(file: File, onBytes: (sent: number) => void, signal: AbortSignal): Promise<string> {
  return new Promise((resolve, reject) => {
    const sending = new Upload(file, {
      endpoint: `/api${UPLOADS}`,
      chunkSize: PIECE,
      retryDelays: TRIES,
      uploadDataDuringCreation: true,
      removeFingerprintOnSuccess: true,
      metadata: { filename: file.name },
      // What the server refuses in words is not asked for again; what never came, or found no server, is.
      onShouldRetry: (error) => {
        const status = error.originalResponse?.getStatus() ?? 0;
        return status === 0 || status === 409 || status === 423 || status === 503;
      },
      onProgress: (sent) => onBytes(sent),
      onSuccess: () => resolve(uploadIdOf(sending.url ?? '')),
      onError: (error) => reject(whatWentWrong(error)),
    });
    const stop = () => void sending.abort(true).catch(() => undefined);
    signal.addEventListener(
      'abort',
      () => {
        stop();
        reject(new ApiError(0, 'cancelled', 'Cancelled; nothing was kept.', {}));
      },
      { once: true },
    );
    sending.findPreviousUploads().then(
      ([before]) => {
        if (signal.aborted) return;
        if (before) sending.resumeFromPreviousUpload(before);
        sending.start();
      },
      () => sending.start(),
    );
  });
}
function whatWentWrong(error: Error | DetailedError): ApiError {
  const answer = error instanceof DetailedError ? error.originalResponse : null;
  if (!answer?.getStatus())
    return new ApiError(
      0,
      'offline',
      'The server does not answer. What was sent is kept for a day: start the server again with npm start, then bring the file in once more, and it goes on.',
      {},
    );
  let body: unknown;
  try {
    body = JSON.parse(answer.getBody());
  } catch {
    body = {};
  }
  return refusal(answer.getStatus(), body);
}

/** Sends files with progress 0..1 and asks for what becomes of them. The job that reads them comes back. */
export async function upload(
  files: readonly File[],
  onProgress: (share: number) => void,
  signal: AbortSignal,
  to: typeof sendMedium | typeof sendBundle,
): Promise<JobSummary> {
  const all = files.reduce((n, file) => n + file.size, 0),
    sent = files.map(() => 0),
    ids: string[] = [];
  let next = 0;
  const some = async (): Promise<void> => {
    for (let i = next++; i < files.length; i = next++)
      ids[i] = await sendOne(
        files[i]!,
        (bytes) => {
          sent[i] = bytes;
          onProgress(all ? sent.reduce((a, b) => a + b, 0) / all : 0);
        },
        signal,
      );
  };
  await Promise.all(Array.from({ length: Math.min(AT_ONCE, files.length) }, some));
  const body: SentFiles = { files: files.map((file, i) => ({ upload: ids[i]!, name: file.name })) };
  return call(to, { body });
}
