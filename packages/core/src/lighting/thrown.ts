import { blurSum, meanHalf, quarterSize, type BlurPart } from '../image/blur';
import type { Pictures } from '../image/arena';
import { exp } from '../image/exactMath';
import { withAddresses } from '../image/kernelCall';
import type { Picture } from '../image/picture';

/** Standard deviations of the blurs that the fall of light over the distance is put together from, cells; each twice the one before. */
const NARROWEST = 0.7,
  BLURS = 6;
/** Places at which a bin of the mixture is summed. */
const PLACES = 12;

/**
 * Weights of Gaussian blurs that together are as a function of t = sigma²: a bin around each sigma, from half of its variance to twice it, so that
 * neighbours touch; the narrowest begins at nothing.
 */
function mixture(density: (t: number) => number): BlurPart[] {
  return Array.from({ length: BLURS }, (_, k) => {
    const sigma = NARROWEST * (1 << k),
      from = k === 0 ? 1e-3 : (sigma * sigma) / 2,
      ratio = (2 * sigma * sigma) / from;
    let weight = 0;
    // Equal steps of the logarithm of t.
    const step = rootOf(ratio, PLACES);
    for (let i = 0, t = from; i < PLACES; i++, t *= step) weight += density(t * Math.sqrt(step)) * t * (step - 1);
    return { sigma, weight: [weight, weight, weight, weight] as const };
  });
}
/** The n-th root, by Newton's steps. */
function rootOf(value: number, n: number): number {
  let x = 1 + (value - 1) / n;
  for (let i = 0; i < 60; i++) {
    let power = 1;
    for (let k = 1; k < n; k++) power *= x;
    x += (value / power - x) / n;
  }
  return x;
}

/**
 * The light of a flat picture at a distance before (or behind) it, at every place: `facing` is what falls on a surface that looks straight at the
 * picture, and the slope of `potential` is what comes from the sides. Both are exact sums of inverse squares: z / (d² + z²)^1.5 and 1 / sqrt(d² + z²), each over 2 pi, of which the first is
 * the Poisson kernel of the half space, a mixture of Gaussians by t = sigma² with the density z exp(-z² / 2t) / sqrt(2 pi t³) (Lévy), and the second its integral over z. So
 * two sums of blurs give what a thousand lamps would. A sky that is as bright everywhere gives its own brightness. Light from more than about thirty
 * times the cell away is left out.
 */
export interface Thrown {
  facing: Picture;
  potential: Picture;
}
/** @param light premultiplied, @param z the distance, cells of that picture. */
export function thrownBy(light: Picture, z: number, pictures: Pictures): Thrown {
  const away = Math.max(0.25, z),
    squared = away * away,
    root = Math.sqrt(6.283185307179586);
  return {
    facing: blurSum(
      light,
      mixture((t) => (away * exp(-squared / (2 * t))) / (root * t * Math.sqrt(t))),
      pictures,
    ),
    potential: blurSum(
      light,
      mixture((t) => exp(-squared / (2 * t)) / (root * Math.sqrt(t))),
      pictures,
    ),
  };
}

/** By how much a core of light is brighter, as a lamp, than the picture that is drawn of it. */
const GLARE = 14;
/**
 * A light as the lamp that it is drawn of, at an eighth of the size of the picture that it is laid on, whether it has that size or half of it. A drawn core of 1 stands for one that no
 * camera could hold: it throws much more than it shows, and a faint veil hardly more.
 */
export function lampOf(light: Picture, width: number, pictures: Pictures): Picture {
  const quarter = light.width === width ? quarterSize(light, pictures) : meanHalf(light, pictures);
  withAddresses(pictures, [quarter], (at) => pictures.run('glareOf', quarter.height, at!, GLARE, quarter.width));
  const out = meanHalf(quarter, pictures);
  pictures.give(quarter);
  return out;
}
