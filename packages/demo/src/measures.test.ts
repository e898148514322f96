import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { TALL, TW_010 } from './measures';

test('what documents say of Ilse is what the generator wrote as truth', async () => {
  const truth = JSON.parse(await readFile(join(process.cwd(), 'packages', 'demo', 'media', 'TW_010', 'truth.json'), 'utf8')) as {
    subject: { heightMetres: number; heightPixels: number };
    pin: unknown[];
  };
  expect(truth.subject).toEqual({ heightMetres: TALL, heightPixels: TW_010.pixels });
  expect(truth.pin).toHaveLength(TW_010.frames);
});
