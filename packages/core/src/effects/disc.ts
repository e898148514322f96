import { withAddresses } from '../image/kernelCall';
import type { Picture } from '../image/picture';
import type { Pose } from '../mounts/mount';
import type { Draw } from './describe';

export interface Disc {
  /** From the mount, and where it has faded out, both in the picture's pixels. */
  place: readonly [number, number];
  reach: number;
  /** 1 is full strength; colour is linear. */
  power: number;
  colour: readonly [number, number, number];
}

/** Light in a soft disc about a mount: a whole picture of light without coverage. The caller gives it back. */
export function discOfLight({ pictures, width, height, scale }: Draw, mount: Pose, { place, reach, power, colour }: Disc): Picture {
  const light = pictures.takePicture(width, height),
    given = pictures.takePlane(8, 1);
  given.data.set([mount.x * scale + place[0], mount.y * scale + place[1], reach, power, ...colour]);
  withAddresses(pictures, [given, light], (from, to) => pictures.run('lightDisc', height, from!, to!, width));
  pictures.give(given);
  return light;
}
