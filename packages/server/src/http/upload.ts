import { randomUUID } from 'node:crypto';
import type { Request, Response } from 'express';
import multer from 'multer';
import { Problem } from './problem';

const LARGEST_FILE = 64 * 2 ** 30;

/** A file name as text: no control characters, which neither a system nor a list can show. */
// eslint-disable-next-line no-control-regex -- these are what is looked for
const readable = (name: string): string => name.replace(/[\u0000-\u001f\u007f]/g, '').slice(0, 200) || 'file';

/**
 * Takes the files of a form's field `files` into a folder, under names of our own: what people call a file is only ever text. What the reader
 * of forms finds wrong is the sender's mistake and is told so.
 */
export function receiver(most: { files: number; bytes?: number }) {
  const folders = new WeakMap<object, string>(),
    upload = multer({
      storage: multer.diskStorage({
        destination: (request, _file, done) => done(null, folders.get(request)!),
        filename: (_request, _file, done) => done(null, randomUUID()),
      }),
      limits: { fileSize: most.bytes ?? LARGEST_FILE, files: most.files, fields: 4 },
      defParamCharset: 'utf8',
    }).array('files', most.files);
  return async (request: Request, response: Response, folder: string): Promise<Express.Multer.File[]> => {
    folders.set(request, folder);
    await new Promise<void>((resolve, reject) => {
      upload(request, response, (error: unknown) => {
        if (!error) resolve();
        else if ((error as { code?: string }).code) reject(error as Error);
        else reject(new Problem(400, 'cut-off', 'The upload broke off or is not a form of files; nothing was kept.'));
      });
      request.on('aborted', () => reject(new Problem(400, 'cut-off', 'The upload broke off; nothing was kept.')));
    });
    const files = (request.files ?? []) as Express.Multer.File[];
    for (const file of files) file.originalname = readable(file.originalname);
    return files;
  };
}
