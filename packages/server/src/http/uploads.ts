import { mkdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import type { RequestHandler } from 'express';
import { UPLOADS, type SentFiles } from '@wraithos/contract';
import { isDiskTrouble } from '@wraithos/runtime';
import type { Services } from '../services';
import { Problem, problemText } from './problem';

/** Most bytes of one file. */
const LARGEST_FILE = 64 * 2 ** 30;
/** How long what was cut off can be gone on with. */
const KEPT_MS = 86_400_000;

/** The folder of files that are being sent, within that of uploads. */
export const comingFolder = (uploads: string): string => join(uploads, 'coming');

/** A file name as text: no control characters, which neither a system nor a list can show. */
// eslint-disable-next-line no-control-regex -- these are what is looked for
const readable = (name: string): string => name.replace(/[\u0000-\u001f\u007f]/g, '').slice(0, 200) || 'file';

/** A file that was sent, under a name of our own. */
export interface Sent {
  path: string;
  name: string;
  size: number;
}

const VERBS = new Set(['POST', 'PATCH', 'HEAD', 'DELETE', 'OPTIONS']);

/** Takes files in pieces (tus 1.0.0); an upload that was cut goes on where it stopped, also after a restart, for a day. */
export function uploadHandler({ folders, disk, log }: Pick<Services, 'folders' | 'disk' | 'log'>): RequestHandler {
  const server = new Server({
    path: `/api${UPLOADS}`,
    datastore: new FileStore({ directory: comingFolder(folders.uploads), expirationPeriodInMilliseconds: KEPT_MS }),
    relativeLocation: true,
    maxSize: LARGEST_FILE,
    onUploadCreate: async (_, upload) => {
      await disk.admit(upload.size ?? 0);
      return {};
    },
    onResponseError(_, error) {
      if (error instanceof Problem) return problemText(error.status, error.type, error.message);
      if (isDiskTrouble(error))
        return problemText(
          507,
          'disk',
          'The disk is full or cannot be written. What was sent is kept; make room and send it again to go on.',
        );
      const { status_code: status } = error as { status_code?: number };
      if (status === 413)
        return problemText(413, 'too-large', 'A file is larger than 64 GiB, the most that is accepted. Cut the clip into parts.');
      if (status === 404 || status === 410)
        return problemText(status, 'not-found', 'This upload is not here any more; send the file again.');
      if (status !== undefined && status < 500)
        return problemText(status, 'invalid', 'This is no part of an upload that is known here; nothing was kept of it.');
      log(error);
      return problemText(500, 'internal', 'Something went wrong on the server. What was sent is kept; send it again to go on.');
    },
  });
  return (request, response) => {
    if (VERBS.has(request.method)) void server.handle(request, response);
    else {
      const { status_code, body } = problemText(405, 'invalid', 'Files are only sent here; nothing can be read.');
      response.status(status_code).type('application/problem+json').send(body);
    }
  };
}

/**
 * Takes files that were sent whole out of the coming ones, into a folder of a job.
 * @throws Problem where one is not here, not whole, or empty.
 */
export async function takeSent({ folders }: Pick<Services, 'folders'>, { files }: SentFiles, folder: string): Promise<Sent[]> {
  const coming = comingFolder(folders.uploads),
    out: Sent[] = [];
  for (const { upload, name } of files) {
    const path = join(coming, upload),
      about = await readFile(`${path}.json`, 'utf8').catch(() => null);
    if (about === null) throw new Problem(404, 'not-found', `${readable(name)} is not here any more; send it again.`);
    const { size: promised } = JSON.parse(about) as { size?: number },
      { size } = await stat(path);
    if (size !== promised) throw new Problem(409, 'unfinished', `${readable(name)} has not come whole yet; send the rest of it first.`);
    out.push({ path, name: readable(name), size });
  }
  const empty = out.find((file) => file.size === 0);
  // What is refused is not kept: sending it again would only be refused again.
  if (empty) await Promise.all(out.flatMap(({ path }) => [path, `${path}.json`].map((left) => rm(left, { force: true }))));
  if (empty) throw new Problem(422, 'medium', `${empty.name} is empty. Nothing was kept.`);
  if (new Set(out.map((file) => file.path)).size !== out.length)
    throw new Problem(400, 'invalid', 'One upload is named twice; nothing was kept.');
  await mkdir(folder, { recursive: true });
  return Promise.all(
    out.map(async (file, i) => {
      const path = join(folder, `file-${i}`);
      await rename(file.path, path);
      await rm(`${file.path}.json`, { force: true });
      return { ...file, path };
    }),
  );
}
