import { hash, type Codes } from '../src/image';
import type { Sources } from '../src/render';
import {
  addClip,
  addMatte,
  addSubject,
  applyEdit,
  changeMatch,
  refineMatte,
  changeSubject,
  newShot,
  type Clip,
  type NewClip,
  type Edit,
  type Shot,
} from '../src/shot';
import type { TrackSample } from '../src/motion';

export const WIDTH = 64,
  HEIGHT = 48,
  FIRST = 1001;
/** Where the subject of the small shot stands: a box of skin before a grainy wall. */
export const BODY = { left: 24, right: 40, top: 10, bottom: 40 };
const inBody = (x: number, y: number) => x >= BODY.left && x < BODY.right && y >= BODY.top && y < BODY.bottom;

/** Codes of a frame of the small shot's clips: the performance has grain and the body, the clean plate neither. */
function codesOf(name: string, frame: number, bits: 8 | 16): Codes {
  const top = bits === 8 ? 255 : 65535,
    data = bits === 8 ? new Uint8Array(WIDTH * HEIGHT * 3) : new Uint16Array(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      for (let c = 0; c < 3; c++) {
        const wall = 0.25 + 0.15 * ((x + 2 * y) / (WIDTH + 2 * HEIGHT)) + 0.03 * c,
          grain = name === 'clean' ? 0 : ((hash(x, y, frame, c) & 255) / 255 - 0.5) * 0.02,
          value =
            name === 'mask'
              ? inBody(x, y)
                ? 1
                : 0
              : name === 'post'
                ? x < 8
                  ? 1
                  : 0
                : name === 'performance' && inBody(x, y)
                  ? 0.7 - 0.2 * c
                  : wall;
        data[(y * WIDTH + x) * 3 + c] = Math.round(
          Math.min(1, Math.max(0, value + (name === 'mask' || name === 'post' ? 0 : grain))) * top,
        );
      }
  return { width: WIDTH, height: HEIGHT, channels: 3, bits, data };
}

/** Sources of the small shot. `asked` counts frames that were read. */
export function smallSources(bits: 8 | 16 = 8, tracks: Record<string, TrackSample[]> = {}): Sources & { asked: string[] } {
  const asked: string[] = [];
  return {
    asked,
    frame(clip, frame) {
      asked.push(`${clip.name} ${frame}`);
      return Promise.resolve(codesOf(clip.name, frame, bits));
    },
    samples: (name) => Promise.resolve(tracks[name] ?? []),
  };
}
export const smallCodes = codesOf;

const clip = (name: string, role: Clip['role'], bits: 8 | 16, frames: number): NewClip => ({
  name,
  role,
  media: { path: name },
  width: WIDTH,
  height: HEIGHT,
  frames,
  rate: { num: 24, den: 1 },
  alpha: false,
  bits,
  transfer: 'srgb',
  start: FIRST,
});

export const apply = (shot: Shot, ...edits: Edit[]): Shot => edits.reduce((now, edit) => applyEdit(now, edit).shot, shot);

/** Performance, clean plate, a mask of the body and one of a post at the left edge; a subject s1 with the matte k1. */
export function smallShot(frames = 12, bits: 8 | 16 = 8): Shot {
  return apply(
    newShot({ code: 'small', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames }),
    addClip(clip('performance', 'performance', bits, frames), 'c1'),
    addClip(clip('clean', 'clean', bits, 1), 'c2'),
    addClip({ ...clip('mask', 'element', bits, 1), transfer: 'linear' }, 'c3'),
    addClip({ ...clip('post', 'element', bits, 1), transfer: 'linear' }, 'c4'),
    addMatte({ id: 'k1', name: 'Body', source: 'clip', clip: 'c3' }),
    refineMatte('k1', { blur: { radius: 0 } }),
    addMatte({ id: 'k2', name: 'Post', source: 'clip', clip: 'c4' }),
    refineMatte('k2', { blur: { radius: 0 } }),
    addSubject('s1', 'Body', 'c1'),
    changeSubject('s1', { matte: 'k1', pixels: 30, metres: 1.7 }),
    // What a test looks at is what it draws; filmed.test.ts has the rest.
    changeMatch({ grain: 0, edges: 'as they are drawn' }),
  );
}
