import { writeFile } from 'node:fs/promises';
import {
  AffineFrame,
  cornerNames,
  crossingOf,
  faceSamples,
  findFace,
  followTrack,
  measureParams,
  pairTurn,
  patchPicture,
  patternParams,
  trackKinds,
  type Following,
  type Quad,
  type StoredKind,
  type TrackSample,
} from '@wraithos/core/motion';
import type { Codes } from '@wraithos/core/image';
import { defaultsOf } from '@wraithos/core/params';
import { openMedium } from '@wraithos/runtime';
import { openFaceFinder } from '../faces';
import { cornersOption, needed, numberOption, pairOption, pathOf, progress, progressEnd, UsageError, type Verb } from '../command';

const MODES = ['point', 'pair', 'area', 'plane', 'colour', 'camera', 'face'] as const;
type Mode = (typeof MODES)[number];

/** Two samples of the same frame as one of a pair: it is no surer than the less sure of the two. */
function paired(a: readonly TrackSample[], b: readonly TrackSample[], i: number): TrackSample {
  const [one, two] = [a[i]!, b[i]!],
    order = ['lost', 'weak', 'good', 'keyed', 'repaired'],
    state = order.indexOf(two.state) < order.indexOf(one.state) ? two.state : one.state,
    turn = state === 'lost' ? null : pairTurn(a, b, one.frame, a[0]!.frame);
  return {
    ...{ ...one, state, confidence: Math.min(one.confidence, two.confidence) },
    ...(state === 'lost' ? { x: null, y: null } : {}),
    ...(turn ?? {}),
  };
}

/** The face at a place, on every frame: samples of the whole, of its parts, and of its lids, whose confidence says how far they are open. */
async function trackFace(
  clip: { width: number; height: number; frames: number },
  codes: (frame: number) => Promise<Codes>,
  at: [number, number],
  frame: number,
): Promise<object> {
  const finder = await openFaceFinder();
  let done = 0;
  try {
    const found = await findFace({
        ...{ clip, finder, at, frame },
        cut: async (f, about, side, size) => patchPicture(await codes(f), new AffineFrame(about[0], about[1]), side, size),
        tell: () => progress(`frame ${++done} of ${clip.frames}`),
      }),
      { face, parts, lids } = faceSamples(found, frame);
    progressEnd();
    return { mode: 'face', samples: face, parts, lids };
  } finally {
    await finder.close();
  }
}

export const track: Verb = {
  name: 'track',
  usage:
    '<clip> --at X,Y [--mode point|pair|area|plane|colour|camera|face] [--to X,Y] [--corners x1,y1,…,x4,y4] [--frame N] [--pattern 41] [--search 81] [--area 121] [--stop] [--out track.json]',
  about:
    'Follows a point, a pair, an area, a plane or a colour to the end of a clip: one sample for each frame (JSON). Pixel centres lie at +0.5.',
  options: {
    at: { type: 'string', value: 'X,Y', about: 'Its place, px from the top left corner; needed, but for a plane and the camera.' },
    mode: {
      type: 'string',
      value: MODES.join('|'),
      about:
        'A point by its pattern; a pair of points with the turn and growth of the line between them; an area; a plane in perspective; a connected area of one colour; the camera by the whole picture; a face with its parts and lids, by Chromium.',
      usual: 'point',
    },
    to: { type: 'string', value: 'X,Y', about: 'The other point of a pair, px.' },
    corners: { type: 'string', value: 'x1,y1,…', about: 'Corners of a plane, px, clockwise from the top left one: eight numbers.' },
    frame: { type: 'string', value: 'N', about: 'Frame of the clip at which it is there, counted from 0.', usual: '0' },
    pattern: { type: 'string', value: 'PX', about: 'Side of the box that is looked for, px, odd.', usual: '41' },
    search: { type: 'string', value: 'PX', about: 'Side of the box that it is looked for in, px.', usual: '81, or the pattern + 20' },
    area: { type: 'string', value: 'PX', about: 'Side of the area, px, odd.', usual: '121' },
    tolerance: { type: 'string', value: '0-100', about: 'Largest difference from the colour that still counts as it, %.', usual: '15' },
    policy: { type: 'string', value: 'WORD', about: `When the pattern is taken anew: ${patternParams.policy.of.join(', ')}.` },
    channel: { type: 'string', value: 'WORD', about: `What is looked at: ${measureParams.channel.of.join(', ')}.` },
    blur: { type: 'string', value: 'PX', about: 'Sigma of a blur before measuring, px.', usual: '0' },
    contrast: { type: 'string', value: '0-100', about: 'Contrast raised for measuring alone, %.', usual: '0' },
    stop: { type: 'boolean', about: 'Stops at the first frame at which it is lost.', usual: 'it goes on looking' },
    out: { type: 'string', value: 'FILE', about: 'Writes the result to a file as well.' },
  },
  positionals: [1, 1],
  async run(given) {
    const mode = (given.values.mode as Mode | undefined) ?? 'point';
    if (!MODES.includes(mode)) throw new UsageError(`--mode wants ${MODES.join(', ')}, not "${String(mode)}".`);
    const corners = mode === 'plane' ? cornersOption(given) : null,
      placed = corners
        ? crossingOf(corners as unknown as Quad)
        : mode === 'camera' && given.values.at === undefined
          ? null
          : pairOption(needed(given, 'at'), 'at'),
      to = mode === 'pair' ? pairOption(needed(given, 'to'), 'to') : null,
      odd = (n: number) => Number.isInteger(n) && n >= 7 && n % 2 === 1 && n <= 301,
      pattern = numberOption(given, 'pattern', 41, odd, 'an odd number of pixels from 7 to 301'),
      search = numberOption(
        given,
        'search',
        Math.max(81, pattern + 20),
        (n) => Number.isInteger(n) && n > pattern && n <= 801,
        `a whole number of pixels above the pattern (${pattern})`,
      ),
      area = numberOption(
        given,
        'area',
        121,
        (n) => Number.isInteger(n) && n >= 31 && n % 2 === 1 && n <= 801,
        'an odd number of pixels from 31 to 801',
      ),
      word = (name: string, of: readonly string[]) => {
        const chosen = (given.values[name] as string | undefined) ?? of[0]!;
        if (!of.includes(chosen)) throw new UsageError(`--${name} wants ${of.join(', ')}, not "${chosen}".`);
        return chosen;
      },
      tolerance = numberOption(given, 'tolerance', 15, (n) => n > 0 && n <= 100, 'a number from 0 to 100'),
      values = {
        ...{
          pattern,
          search: mode === 'colour' && given.values.search === undefined ? 161 : search,
          area,
          tolerance,
          policy: word('policy', patternParams.policy.of),
          channel: word('channel', measureParams.channel.of),
        },
        preBlur: numberOption(given, 'blur', 0, (n) => n >= 0 && n <= 10, 'pixels from 0 to 10'),
        raised: numberOption(given, 'contrast', 0, (n) => n >= 0 && n <= 100, 'a number from 0 to 100'),
        ...Object.fromEntries(
          cornerNames.map((name, i) => [name, corners ? [corners[i]![0] - placed![0], corners[i]![1] - placed![1]] : [0, 0]]),
        ),
      };
    const { store, hash, info } = await openMedium(pathOf(given.positionals[0]!)),
      at = placed ?? ([info.width / 2, info.height / 2] as [number, number]),
      first = numberOption(
        given,
        'frame',
        0,
        (n) => Number.isInteger(n) && n >= 0 && n < info.frames,
        `a frame from 0 to ${info.frames - 1}`,
      );
    for (const [name, p] of [
      ['at', at],
      ['to', to],
    ] as const)
      if (p && !(p[0] >= 0 && p[1] >= 0 && p[0] <= info.width && p[1] <= info.height))
        throw new UsageError(`--${corners ? 'corners' : name} ${p.join(',')} lies outside the picture (${info.width} x ${info.height}).`);
    if (mode === 'face') {
      const result = await trackFace(info, (f) => store.codes(hash, f), at, first);
      if (typeof given.values.out === 'string') await writeFile(pathOf(given.values.out), JSON.stringify(result, null, 1));
      return result;
    }
    const { params } = trackKinds[mode],
      stored = {
        kind: mode,
        ...defaultsOf(params),
        ...Object.fromEntries(Object.keys(params).flatMap((k) => (k in values ? [[k, values[k as never]]] : []))),
      },
      codes = await store.codes(hash, first),
      followed: { it: Following; samples: TrackSample[] }[] = [at, ...(to ? [to] : [])].map(([x, y]) => {
        try {
          const it = followTrack(stored as unknown as StoredKind, codes, first, { x, y })!;
          return { it, samples: [it.start] };
        } catch (error) {
          // What it refuses is how it was asked for.
          throw new UsageError((error as Error).message);
        }
      });
    let stopped = false;
    for (let f = first + 1; f < info.frames; f++) {
      const next = stopped ? null : await store.codes(hash, f);
      for (const { it, samples } of followed)
        samples.push(next ? it.step(next, f) : { ...samples.at(-1)!, frame: f, x: null, y: null, confidence: 0, state: 'lost' });
      const states = followed.map(({ samples }) => samples.at(-1)!.state);
      if (given.values.stop && states.includes('lost')) stopped = true;
      progress(`frame ${f} of ${info.frames - 1}: ${states.join(', ')}`);
    }
    progressEnd();
    const [one, two] = followed.map(({ samples }) => samples),
      samples = two ? one!.map((_, i) => paired(one!, two, i)) : one!;
    for (const s of samples) if (s.state === 'lost') delete s.corners;
    const result = { mode, samples };
    if (typeof given.values.out === 'string') await writeFile(pathOf(given.values.out), JSON.stringify(result, null, 1));
    return result;
  },
};
