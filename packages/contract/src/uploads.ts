import { z } from 'zod';

/** Where files are sent to, by the protocol tus 1.0.0: an upload that was cut goes on where it stopped. Below `/api`. */
export const UPLOADS = '/uploads';
const TUS = '1.0.0';

/** Files that were sent whole: the id that each got, and what people call it. */
export const sentFiles = z.object({
  files: z
    .array(z.object({ upload: z.string().regex(/^[0-9a-f]{32}$/), name: z.string().min(1).max(400) }))
    .min(1)
    .max(5000),
});
export type SentFiles = z.infer<typeof sentFiles>;

/** What a request says that sends a whole file of so many bytes. */
export const uploadHeaders = (bytes: number): Record<string, string> => ({
  'Tus-Resumable': TUS,
  'Upload-Length': String(bytes),
  'Content-Type': 'application/offset+octet-stream',
});
/** The id of an upload, from the address that the server gave it. */
export const uploadIdOf = (address: string): string => address.split('/').pop() ?? '';

/**
 * Sends small files, each in one request, and asks for what becomes of them: for programs that have no page.
 * @param base address of the server, @param path `/media` or `/bundles`. The answer of that is given.
 */
export async function sendWhole(
  base: string,
  files: readonly (readonly [bytes: Uint8Array, name: string])[],
  path: string,
): Promise<Response> {
  const sent: SentFiles['files'] = [];
  for (const [bytes, name] of files) {
    const answer = await fetch(`${base}/api${UPLOADS}`, {
      method: 'POST',
      headers: uploadHeaders(bytes.length),
      // An empty body is no upload of nothing.
      body: bytes.length ? new Uint8Array(bytes) : undefined,
    });
    if (answer.status !== 201) return answer;
    sent.push({ upload: uploadIdOf(answer.headers.get('Location') ?? ''), name });
  }
  return fetch(`${base}/api${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ files: sent } satisfies SentFiles),
  });
}
