import { Arena, logCodes, type Codes, type Helpers } from '@wraithos/core/image';
import { buildPlate, type BuiltPlate, type Footage, type PlateOptions, type PlateReport } from '@wraithos/core/plate';
import type { FrameStore, StoredInfo } from './frameStore';
import { MediaError } from './ffmpeg';

/** Room for a strip of rows of all frames that are looked at, and what is made of it. */
const MEMORY = 256 * 2 ** 20;

/**
 * The frames of a stored clip, read in rows. Floats become 16-bit codes of ACEScct, which goes far above 1 and is as fine as a half float where
 * pictures are.
 */
export const footageOf = (store: FrameStore, hash: string, info: StoredInfo, covered?: Footage['covered']): Footage => ({
  width: info.width,
  height: info.height,
  channels: info.channels,
  bits: info.bitDepth === 8 ? 8 : 16,
  count: info.frames,
  rows: async (frame, y0, y1) => {
    const codes = await store.rows(hash, frame, y0, y1);
    return codes instanceof Float32Array ? logCodes(codes) : codes;
  },
  covered,
});

/**
 * Builds the clean plate of a stored clip.
 * @throws MediaError for clips that can have none.
 */
export async function plateOf(
  store: FrameStore,
  hash: string,
  options: Omit<PlateOptions, 'transfer'> & { transfer?: PlateOptions['transfer'] },
  more: { covered?: Footage['covered']; helpers?: Helpers; tell?: (done: number, what: string) => void } = {},
): Promise<BuiltPlate & { info: StoredInfo }> {
  const info = await store.info(hash);
  if (info.alpha) throw new MediaError('it has alpha, so nothing stands behind its character that a clean plate could show');
  if (info.frames < 3) throw new MediaError('a clean plate needs three frames at the least');
  const read = info.bitDepth === 32 ? ({ ...info, bitDepth: 16, transfer: 'acescct' } as const) : info,
    built = await buildPlate(
      footageOf(store, hash, info, more.covered),
      { transfer: read.transfer, ...options },
      new Arena(MEMORY, more.helpers),
      more.tell,
    );
  return { ...built, info: read };
}

/** A built plate, kept in the store as a clip of its own, with a picture of what is unsure where anything is. */
export async function keepPlate(
  store: FrameStore,
  built: BuiltPlate & { info: StoredInfo },
  tell?: (done: number, total: number) => void,
  part?: string,
): Promise<{ hash: string; info: StoredInfo; report: PlateReport; doubt: string | null }> {
  const { info } = built,
    first = await built.frame(0),
    facts = {
      ...info,
      frames: built.count,
      bitDepth: first.bits,
      alpha: false,
      codec: 'clean plate',
      kind: built.count > 1 ? ('sequence' as const) : ('still' as const),
    };
  async function* frames(): AsyncGenerator<Codes> {
    yield first;
    for (let f = 1; f < built.count; f++) yield await built.frame(f);
  }
  const { hash, info: stored } = await store.keep(facts, frames(), (done) => tell?.(done, built.count), part);
  const { width, height } = info,
    grey = new Uint8Array(width * height * 3).map((_, i) => built.unsure[Math.floor(i / 3)]!);
  async function* doubts(): AsyncGenerator<Codes> {
    yield await Promise.resolve({ width, height, channels: 3 as const, bits: 8 as const, data: grey });
  }
  const doubt =
    built.report.unsure > 0 ? (await store.keep({ ...facts, frames: 1, bitDepth: 8, kind: 'still', codec: 'doubt' }, doubts())).hash : null;
  return { hash, info: stored, report: built.report, doubt };
}
