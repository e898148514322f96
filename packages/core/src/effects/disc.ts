import { withAddresses } from '../image/kernelCall';
import type { Picture } from '../image/picture';
import type { Frame } from '../motion/frame';
import type { Canvas } from './describe';

export interface Disc {
  /** From the mount, and where it has faded out, both in the mount's own pixels. */
  place: readonly [number, number];
  reach: number;
  /** 1 is full strength; colour is linear. */
  power: number;
  colour: readonly [number, number, number];
}

/**
 * Light in a soft disc about a mount: a whole picture of light without coverage. It grows with the mount, and stays round, as light in air does. The
 * caller gives it back.
 */
export function discOfLight({ pictures, width, height }: Canvas, mount: Frame, { place, reach, power, colour }: Disc): Picture {
  const light = pictures.takePicture(width, height),
    given = pictures.takePlane(8, 1);
  given.data.set([...mount.toPicture(place), reach * mount.scaleAt(place), power, ...colour]);
  withAddresses(pictures, [given, light], (from, to) => pictures.run('lightDisc', height, from!, to!, width));
  pictures.give(given);
  return light;
}
