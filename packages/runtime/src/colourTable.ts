import { open, readFile, stat } from 'node:fs/promises';
import { looksLikeCube, parseCube, type Codes, type Cube } from '@wraithos/core/image';
import { MediaError } from './ffmpeg';

const LARGEST = 96 * 2 ** 20;

/** True for a file that is a table for colours (`.cube`), by its content. */
export async function isTable(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(4096), 0, 4096, 0),
      text = buffer.subarray(0, bytesRead).toString('latin1');
    return !text.includes('\0') && looksLikeCube(text);
  } finally {
    await file.close();
  }
}
/** Reads a `.cube` file. @throws MediaError in words that follow its name. */
export async function readTable(path: string): Promise<Cube> {
  if ((await stat(path)).size > LARGEST) throw new MediaError('it is too large for a table of colours');
  try {
    return parseCube(await readFile(path, 'utf8'));
  } catch (error) {
    throw new MediaError((error as Error).message, { cause: error });
  }
}
/** A table as a picture of floats, as the frame store keeps it. */
export const tableCodes = ({ kind, size, values }: Cube): Codes => ({
  width: size,
  height: kind === 'cube' ? size * size : 1,
  channels: 3,
  bits: 32,
  data: values,
});
