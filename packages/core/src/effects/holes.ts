import type { Pictures } from '../image/arena';
import type { Plane } from '../image/picture';
import { param } from '../params/describe';
import { fillSmall } from '../matte/fillSmall';

/** What holes of a matte are to light that runs along a body's edge. */
export const matteHoles = param.choice({
  default: 'closed',
  of: ['closed', 'open'],
  title: 'Holes of the matte',
  help: 'Closed counts small holes of the matte as body, so that no light runs along their rims.',
  rare: true,
});
/** Holes up to this share of the figure's height, squared, are closed; the gap beneath an arm is larger. */
const SMALL = 0.1;
/** Coverage below which a pixel is of a hole: its soft rim would be a vein as well. */
const FULL = 0.97;

/**
 * A matte without its small holes; the caller gives it back.
 * @param height of the figure, pixels of the matte.
 */
export function withoutHoles(matte: Plane, height: number, pictures: Pictures): Plane {
  const out = pictures.takePlane(matte.width, matte.height),
    most = SMALL * height * (SMALL * height);
  out.data.set(matte.data);
  fillSmall(out, most, FULL, true, 1, true);
  return out;
}

/** How many pixels of a matte lie in small holes of it. @param height of the figure, pixels of the matte. */
export function smallHoles(matte: Plane, height: number): number {
  const filled: Plane = { ...matte, data: matte.data.slice(), address: undefined },
    most = SMALL * height * (SMALL * height);
  fillSmall(filled, most, FULL, true, 1, true);
  let n = 0;
  for (let k = 0; k < filled.data.length; k++) if (filled.data[k]! - matte.data[k]! > 0.5) n++;
  return n;
}
