import { Arena, decodeCodes, lumaOfCodes, newPlane, type Picture } from '../src/image';
import { keyBacking, OutlineCarrier, corner, wholeBody } from '../src/matte';
import type { Work } from './measure';
import { HEIGHT, likeAPicture, WIDTH } from './scene';

const MEBIBYTE = 2 ** 20,
  whole = { width: WIDTH, height: HEIGHT },
  GREEN = [0.04, 0.36, 0.08];
/** A body of a seventh of the picture, softly bounded, before something else; linear light. */
function withBody(behind: Picture, body: Picture): void {
  const [b, f] = [behind.data, body.data];
  for (let k = 0; k < WIDTH * HEIGHT; k++) {
    const x = k % WIDTH,
      y = (k - x) / WIDTH,
      share = Math.min(1, Math.max(0, (0.5 - Math.hypot((x - 600) / 330, (y - 400) / 520)) * 60));
    for (let c = 0; c < 3; c++) b[4 * k + c] = b[4 * k + c]! * (1 - share) + f[4 * k + c]! * share;
  }
}

/** One frame of a difference that looks for the whole body, without refinements. */
export function difference(copies: Pick<Work, 'peer' | 'runPeer'>): Work {
  const arena = new Arena(300 * MEBIBYTE),
    clean = decodeCodes(likeAPicture(3), 'srgb', arena),
    plate = decodeCodes(likeAPicture(3), 'srgb', arena);
  withBody(plate, decodeCodes(likeAPicture(11), 'srgb', arena));
  return { work: 'matte-difference', ...whole, run: () => arena.give(wholeBody(plate, clean, 'dropped', arena)), ...copies };
}
/** One frame of a key by core and edge, its backing followed. */
export function chroma(copies: Pick<Work, 'peer' | 'runPeer'>): Work {
  const arena = new Arena(300 * MEBIBYTE),
    plate = decodeCodes(likeAPicture(3), 'srgb', arena),
    key = { outside: 0.06, core: 0.8, edge: 10, even: false };
  for (let k = 0; k < WIDTH * HEIGHT; k++)
    for (let c = 0; c < 3; c++) plate.data[4 * k + c] = GREEN[c]! * (0.8 + (0.4 * (k % WIDTH)) / WIDTH);
  withBody(plate, decodeCodes(likeAPicture(11), 'srgb', arena));
  return { work: 'matte-chroma', ...whole, run: () => arena.give(keyBacking(plate, [0.22, 0.63, 0.31], key, arena)), ...copies };
}
/** One step of an outline of 40 points that is carried on by the picture. */
export function carryOn(copies: Pick<Work, 'peer' | 'runPeer'>): Work {
  const planes = [3, 4].map((seed) => lumaOfCodes(likeAPicture(seed), newPlane(WIDTH, HEIGHT))),
    around = Array.from({ length: 40 }, (_, i) =>
      corner(600 + 150 * Math.cos((i * Math.PI) / 20), 400 + 250 * Math.sin((i * Math.PI) / 20)),
    ),
    carrier = new OutlineCarrier(planes[0]!, 0, around);
  let frame = 0;
  return { work: 'carry-on-40', ...whole, run: () => void carrier.step(planes[++frame % 2]!, frame), ...copies };
}
