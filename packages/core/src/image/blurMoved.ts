import { cos, log, exp, radians, sin } from './exactMath';
import type { Pictures } from './arena';
import { withAddresses } from './kernelCall';
import type { Picture } from './picture';

/** x' = a x + b y + c, y' = d x + e y + f in pixel coordinates, centres at +0.5. */
type Affine = readonly [number, number, number, number, number, number];

/**
 * Mean of the picture along a movement of which `part(s)` gives the map for a share s of it, -0.5..0.5. Samples at s and -s are averaged, then
 * again with half the movement, and so on until steps are below half a pixel: n passes make an even line of 2^n samples.
 */
function blurAlongWay(source: Picture, pixels: number, part: (s: number) => Affine, pictures: Pictures): Picture {
  const { width, height } = source,
    maps = pictures.takePlane(12, 1);
  let now = source;
  for (let share = 0.25; share * pixels > 0.2 && share > 1e-4; share /= 2) {
    maps.data.set([...part(share), ...part(-share)]);
    const next = pictures.takePicture(width, height);
    withAddresses(pictures, [now, maps, next], (from, m, to) => pictures.run('averageMoved', height, from!, m!, to!, width, height));
    if (now !== source) pictures.give(now);
    now = next;
  }
  pictures.give(maps);
  if (now !== source) return now;
  const out = pictures.takePicture(width, height);
  out.data.set(source.data);
  return out;
}

/** Blur along a straight line of `length` pixels in a direction (degrees, clockwise as seen); edges hold. */
export function blurDirection(source: Picture, length: number, direction: number, pictures: Pictures): Picture {
  const dx = length * cos(radians(direction)),
    dy = length * sin(radians(direction));
  return blurAlongWay(source, Math.abs(length), (s) => [1, 0, s * dx, 0, 1, s * dy], pictures);
}

/** Farthest distance of a corner from a point: where a blur about it is longest. */
const farthest = ({ width, height }: Picture, x: number, y: number): number =>
  Math.sqrt(Math.max(x, width - x) * Math.max(x, width - x) + Math.max(y, height - y) * Math.max(y, height - y));

/** Blur along rays from (x, y): each point over scales from 1 - amount / 2 to about 1 + amount / 2. */
export function blurZoom(source: Picture, amount: number, x: number, y: number, pictures: Pictures): Picture {
  const way = log((2 + amount) / Math.max(0.02, 2 - amount));
  return blurAlongWay(
    source,
    Math.abs(amount) * farthest(source, x, y),
    (s) => {
      const k = exp(s * way);
      return [k, 0, x * (1 - k), 0, k, y * (1 - k)];
    },
    pictures,
  );
}

/** Blur along circles about (x, y), over `angle` degrees in all. */
export function blurSpin(source: Picture, angle: number, x: number, y: number, pictures: Pictures): Picture {
  const way = radians(angle);
  return blurAlongWay(
    source,
    Math.abs(way) * farthest(source, x, y),
    (s) => {
      const c = cos(s * way),
        n = sin(s * way);
      return [c, -n, x - c * x + n * y, n, c, y - n * x - c * y];
    },
    pictures,
  );
}
