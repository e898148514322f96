import { apply } from '../../test/smallShot';
import type { Codes } from '../image';
import type { TrackSample } from '../motion';
import { effects } from '../effects';
import { suggestedValues } from '../recipes';
import * as s from '../shot';
import { contrastOf, contrastProblem } from './contrast';
import { FrameRenderer } from './renderFrame';
import type { Sources } from './sources';

const WIDTH = 640,
  HEIGHT = 360,
  FIRST = 1001,
  BEGINS = FIRST + 4;
/** A figure of 215 px with an arm held out, before a flat ground. */
const inBody = (x: number, y: number): boolean =>
  (Math.abs(x - 320) < 20 + (y - 100) * 0.09 && y > 100 && y < 315) || (Math.abs(y - 140 - (x - 320) * 0.25) < 8 && x > 240 && x < 320);
const still = (x: number, y: number): TrackSample[] =>
  Array.from({ length: 48 }, (_, frame) => ({ frame, x, y, rotation: 0, scale: 1, confidence: 1, state: 'good' }));

/** Display value of linear light (IEC 61966-2-1). */
const display = (light: number): number => (light <= 0.0031308 ? 12.92 * light : 1.055 * Math.pow(light, 1 / 2.4) - 0.055);

/** The shot on a ground of linear light, the body of the same light, so that only the effects are measured. */
function sourcesOf(light: number): Sources {
  const codes = (name: string): Codes => {
    const data = new Uint8Array(WIDTH * HEIGHT * 3);
    for (let y = 0, p = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++, p++) {
        const body = inBody(x, y),
          value = name === 'mask' ? (body ? 1 : 0) : display(light);
        data.fill(Math.round(255 * value), 3 * p, 3 * p + 3);
      }
    return { width: WIDTH, height: HEIGHT, channels: 3, bits: 8, data };
  };
  const made = new Map<string, Codes>();
  return {
    frame(clip) {
      if (!made.has(clip.name)) made.set(clip.name, codes(clip.name));
      return Promise.resolve(made.get(clip.name)!);
    },
    samples: (name) => Promise.resolve(name === 'hand' ? still(244, 124) : still(120, 90)),
  };
}
const clip = (name: string, role: s.Clip['role'], frames: number): s.NewClip => ({
  ...{ name, role, media: { path: name }, width: WIDTH, height: HEIGHT, frames, rate: { num: 24, den: 1 } },
  ...{ alpha: false, bits: 8, transfer: name === 'mask' ? 'linear' : 'srgb', start: FIRST },
});
const base = apply(
  s.newShot({ code: 'grounds', width: WIDTH, height: HEIGHT, rate: { num: 24, den: 1 }, frames: 48 }),
  s.addClip(clip('performance', 'performance', 48), 'c1'),
  s.addClip(clip('clean', 'clean', 1), 'c2'),
  s.addClip(clip('mask', 'element', 1), 'c3'),
  s.addMatte({ id: 'k1', name: 'Body', source: 'clip', clip: 'c3' }),
  s.refineMatte('k1', { blur: { radius: 0 } }),
  s.addSubject('s1', 'Body', 'c1'),
  s.changeSubject('s1', { matte: 'k1', pixels: 215, metres: 1.76 }),
  ...(['hand', 'far'] as const).flatMap((name, i) => [
    s.addTrack({ id: `t${i + 1}`, name, clip: 'c1', at: [244, 124], frame: 0 }),
    s.storeSamples({ [`t${i + 1}`]: name }),
  ]),
);

/** A new row of an effect, as the page makes it on the track of the hand. */
function asItComes(type: string): s.Shot {
  const lane = effects[type]!.lanes[0]!,
    own = lane === 'on' || lane === 'front' || lane === 'behind',
    site = suggestedValues(type, base, 't1', BEGINS);
  return apply(base, s.addRow({ id: 'r1', effect: type, lane, subject: own ? 's1' : null, track: 't1', ...site }));
}

/** Effects that change what is there: on an even ground there is nothing for them to change, or they show a clip or a motion that this shot has not. */
const CHANGES = ['after-images', 'blur', 'displace', 'element', 'glow', 'grade', 'grain', 'steady'];
/** Frames after its beginning at which an effect is looked at. */
const LOOKED: Record<string, number> = { bolt: 0, flash: 1, beam: 8 };
const shown = Object.keys(effects).filter((type) => !CHANGES.includes(type)),
  grounds = [0.02, 0.18, 0.35, 0.5, 0.75, 1];
/** Nothing is lighter than white: these add light alone, and leave white as it is. Their check says so to whoever tries. */
const LIGHT_ALONE = ['emitter', 'flash', 'materialise'];
/** Least change of a block that a default may make, of the display's range. */
const READS = 0.06;

describe.each(grounds)('on a ground of %d', (light) => {
  test.each(shown)('%s reads as it comes', async (type) => {
    const shot = asItComes(type),
      renderer = new FrameRenderer(sourcesOf(light), shot, 96 * 2 ** 20),
      found = await contrastOf(renderer, shot, 'r1', BEGINS + (LOOKED[type] ?? 12));
    if (light === 1 && LIGHT_ALONE.includes(type)) {
      expect(contrastProblem(type, true, found)!.fix).toMatch(/bright/);
      return;
    }
    expect([type, found.change > READS, contrastProblem(type, true, found)]).toEqual([type, true, null]);
  });
});
