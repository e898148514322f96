import { withCarried } from '../matte/carriedKeys';
import type { CarriedShape } from '../matte/carryOn';
import type { FollowedBody } from '../matte/bodyFollower';
import type { LightChanges } from '../matte/wholeBody';
import type { OutlineKey } from '../matte/outlineKeys';
import type { TrackSample } from '../motion/pointTracker';
import { newRefinement } from '../matte/refinements';
import { clipWithRole } from './clips';
import { freshId, freshName, newMatte, newOutline, newSubject, newTrack } from './create';
import { edit, type Edit } from './edit';
import { addClip } from './edits';
import { mountOn } from './hang';
import type { Clip, Matte, NewClip, Outline, Shot } from './schema';

/** How sure a frame of a body must be to be called good. */
const GOOD = 0.7;
/** Feather of the loose outline, pixels, and by how much traces reach beyond it, a share of the body's height. */
const FEATHER = 8,
  TRACES = 0.22;

/** What stands on a followed body: its middle, with its growth against the frame on which it was pressed. */
export function bodySamples(bodies: readonly FollowedBody[], pressed: number): TrackSample[] {
  const usual = bodies.find((b) => b.frame === pressed)!.area;
  return bodies.map((b): TrackSample => {
    if (!b.area) return { frame: b.frame, x: null, y: null, rotation: 0, scale: 1, confidence: 0, state: 'lost' };
    const [x, y] = b.middle;
    return {
      ...{ frame: b.frame, x, y, rotation: 0, confidence: b.sure },
      // A body that is partly covered has not shrunk.
      scale: b.sure > GOOD ? Math.sqrt(b.area / usual) : 1,
      state: b.frame === pressed ? 'keyed' : b.sure > GOOD ? 'good' : 'weak',
    };
  });
}
/** Its height on the picture, pixels: the middle one of the frames on which it is sure, or of all where it is so on none. */
export function bodyHeight(bodies: readonly FollowedBody[]): number {
  const sure = bodies.filter((b) => b.sure > GOOD),
    heights = (sure.length ? sure : bodies).flatMap((b) => (b.box ? [b.box[3] - b.box[1]] : [])).sort((a, b) => a - b);
  return Math.round(heights[heights.length >> 1] ?? 100);
}

/** The sources of a new difference matte, with its shadow kept or dropped. */
const withShadow = ({ sources }: Matte, shadow: LightChanges): Matte['sources'] =>
  sources.map((one) => ({ ...one, source: { ...one.source, shadow } as typeof one.source }));
/**
 * Keeps a body that was followed through its clip, as ordinary entities: a difference matte within a loose outline that goes with it, a track in its middle
 * that carries a mount, its traces, and a subject of them with its height. The first subject that has no matte takes them, else there is a new one.
 * @param shadow whether its matte keeps its shadow. @param bodies in order of frames. @param pressed the frame of the clip on which it was pressed. @param samples where its samples are kept.
 */
export const keepIsolated = (o: {
  name: string;
  clip: string;
  bodies: readonly FollowedBody[];
  pressed: number;
  samples: string;
  shadow: LightChanges;
}): Edit =>
  edit('Isolate a body', (s) => {
    const { bodies, pressed } = o,
      there = bodies.find((b) => b.frame === pressed)!,
      clip = s.clips[o.clip]! as Clip,
      own = clipWithRole(s as Shot, 'performance')?.id === o.clip ? null : o.clip,
      shapes = bodies.map((b): CarriedShape => ({ frame: b.frame, vertices: b.around, sure: b.around.map(() => b.sure) })),
      drawn: OutlineKey = { frame: pressed, ease: 'linear', sure: null, vertices: there.around },
      keys = withCarried([drawn], shapes),
      height = bodyHeight(bodies),
      around = (name: string, grow: number, feather: number): Outline => ({
        ...newOutline({ id: 'o1', name, mode: 'keep inside', points: [], feather }),
        keys,
        values: { feather, grow, opacity: 100 },
      });
    const matte = freshId(s.mattes, 'k'),
      name = freshName(s.mattes, o.name);
    const made = newMatte({ id: matte, name, source: 'difference', clip: own });
    s.mattes[matte] = {
      ...made,
      sources: withShadow(made, o.shadow),
      outlines: [around('Around it', 0, FEATHER)],
    };
    const traces = freshId(s.mattes, 'k'),
      looser = newMatte({ id: traces, name: freshName(s.mattes, `Traces of ${name}`), source: 'difference', clip: own });
    s.mattes[traces] = {
      ...looser,
      sources: withShadow(looser, 'kept'),
      refine: looser.refine.map((one) => (one.kind === 'grow' ? { ...one, by: 4 } : one.kind === 'blur' ? { ...one, radius: 6 } : one)),
      outlines: [around('Around it, with its shadow', Math.round(TRACES * height), Math.round(TRACES * height))],
    };
    const track = freshId(s.tracks, 't'),
      [x, y] = there.middle;
    s.tracks[track] = {
      ...newTrack({ id: track, name: freshName(s.tracks, `${name}, middle`), clip: o.clip, at: [x, y], frame: pressed, kind: 'matte' }),
      matte,
      samples: o.samples,
    } as (typeof s.tracks)[string];
    const mount = mountOn(s, track),
      free = Object.values(s.subjects).find((one) => one.clip === o.clip && one.matte === null),
      id = free?.id ?? freshId(s.subjects, 's');
    if (!free) s.subjects[id] = newSubject({ id, name: freshName(s.subjects, o.name), clip, shot: s as Shot });
    Object.assign(s.subjects[id]!, { matte, traces, mount, pixels: Math.max(1, height) });
  });

/** How far to both sides of its edge a found person's matte is laid on the picture's own edges: a share of the height, and pixels at the least. */
const FINDS_EDGES = 0.025,
  EDGES_AT_LEAST = 4;
/**
 * Keeps a person who was found on the frames of a clip: the clip of the found mattes, a matte of it that follows the picture's own edges, and, for the first
 * subject that has no matte (else a new one), that matte and the height.
 * @param of the clip on which the person was found. @param found the clip of the mattes, of the same frames and size. @param height on the picture, pixels.
 */
export const keepPerson = (o: { name: string; of: string; found: NewClip; height: number }): Edit =>
  edit('Find a person', (s) => {
    const clip = s.clips[o.of]! as Clip,
      own = clipWithRole(s as Shot, 'performance')?.id === o.of ? null : o.of,
      id = freshId(s.clips, 'c');
    // Where the person's clip begins, the mattes begin.
    addClip({ ...o.found, role: 'element', cue: clip.cue, start: clip.start }, id).apply(s);
    const matte = freshId(s.mattes, 'k'),
      made = newMatte({ id: matte, name: freshName(s.mattes, o.name), source: 'clip', clip: id }),
      radius = Math.max(EDGES_AT_LEAST, Math.round(FINDS_EDGES * o.height)),
      refine = made.refine.map((one) => (one.kind === 'blur' ? { ...one, radius: 0 } : one));
    s.mattes[matte] = { ...made, clip: own, refine: [...refine, newRefinement(freshId(refine, 'f'), 'follow edges', { radius })] };
    const free = Object.values(s.subjects).find((one) => one.clip === o.of && one.matte === null),
      subject = free?.id ?? freshId(s.subjects, 's');
    if (!free) s.subjects[subject] = newSubject({ id: subject, name: freshName(s.subjects, o.name), clip, shot: s as Shot });
    Object.assign(s.subjects[subject]!, { matte, pixels: Math.max(1, o.height) });
  });
