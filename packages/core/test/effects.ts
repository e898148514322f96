import { defaultsOf, valuesAt, type Draw, type Effect, type Fact, type Layers, type StoredValue } from '../src/effects';
import type { Pictures } from '../src/image';
import { AffineFrame, pictureFrame, type Frame } from '../src/motion';

/** A frame that stands at a place, neither turned nor grown. */
export const standing = (x: number, y: number, more: Partial<Frame> = {}): Frame =>
  new AffineFrame(x, y, undefined, { certain: true, lost: false, hung: true, ...more });
/** What stands in where an effect hangs on nothing. */
export const nothing = (width: number, height: number, origin: 'middle' | 'corner' = 'middle'): Frame =>
  pictureFrame(origin, width, height);

/** Surroundings of a shot at 24 frames a second, ten frames into a row. */
export const drawOn = (pictures: Pictures, width: number, height: number, more: Partial<Draw<Fact>> = {}): Draw<Fact> => ({
  pictures,
  width,
  height,
  scale: 1,
  frame: 1010,
  framesPerSecond: 24,
  frameInRow: 9,
  rowLength: 48,
  subjectPixels: 30,
  subjectMetres: 1.7,
  traces: false,
  strokes: [],
  cues: [],
  lines: [],
  around: [],
  ...more,
});

/** What is read, with its frames in pixels of a picture of this size. */
export const resized = (read: object, scale: number) =>
  Object.fromEntries(
    Object.entries(read).map(([name, value]) => [name, value instanceof AffineFrame ? value.resized(scale) : (value as unknown)]),
  ) as never;

/** What an effect gives with its defaults and some other values; whatever it reads is given. */
export function give(effect: unknown, stored: Record<string, StoredValue>, read: object, draw: Draw<Fact>, state?: unknown): Layers {
  const e = effect as Effect;
  return e.render(draw, valuesAt(e.params, { ...defaultsOf(e.params), ...stored }, {}, 0, draw.scale), resized(read, draw.scale), state);
}
