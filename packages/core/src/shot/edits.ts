import { applyPatches, current, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';
import { generateKeyBetween } from 'fractional-indexing';
import type { Lane } from '../effects';
import type { Carriage } from '../motion/carriage';
import { namesNothing, trackKinds, type KindOfTrack } from '../motion/kinds';
import type { Correction } from '../motion/samples';
import { defaultsOf, type StoredValue } from '../params';
import { clipParams, frozen } from '../placing';
import { easeOf, withPoint, type CurvePoint } from '../time/curve';
import { freshId, freshName, newPlacing, newRow, newSubject, newTake, newTrack, plainReading } from './create';
import { edit, type Change, type Edit } from './edit';
import { dropIdleMount, mountOn } from './hang';
import { asStored, inRowFrames, putPoint } from './hungCurves';
import { rowRange, rowsOf } from './query';
import { cueFrame, storedCueFrame } from './when';
import type { Base, Clip, Cue, NewClip, PlacedEntry, Repair, Row, Shot, Subject, Take, Track } from './editTypes';

export { together, type Change, type Edit } from './edit';

enablePatches();

/** Applies an edit. The patches are the undo history, the autosave and the revision log. Unchanged documents give no patches. */
export function applyEdit(shot: Shot, edit: Edit): { shot: Shot; change: Change } {
  const [next, patches, inverse] = produceWithPatches(shot, (draft) => {
    edit.apply(draft);
  });
  return { shot: next, change: { name: edit.name, patches, inverse } };
}
export const applyChange = (shot: Shot, patches: readonly Patch[]): Shot => applyPatches(shot, patches as Patch[]);

/** True where two sets of patches touch nothing in common, so that one can be laid on top of the other. */
export function independent(a: readonly Patch[], b: readonly Patch[]): boolean {
  const within = (p: readonly (string | number)[], q: readonly (string | number)[]) => p.every((part, i) => i >= q.length || part === q[i]);
  return a.every((x) => b.every((y) => !within(x.path, y.path)));
}

/** Adds a clip; it stands as clips do when they are new where nothing else is said. The first performance is the base. */
export const addClip = (clip: NewClip, id: string): Edit =>
  edit('Add clip', (s) => {
    s.clips[id] = {
      placed: newPlacing(clipParams),
      continues: null,
      made: null,
      cue: null,
      ...plainReading,
      ...clip,
      id,
      name: freshName(s.clips, clip.name),
    };
    if (clip.role === 'performance' && !s.base.takes.length) s.base.takes = [newTake({ id: 'b1', clip: id, start: s.first })];
  });
/** Fields of a clip that say how its medium is read. */
const readings = ['transfer', 'primaries', 'premultiplied', 'lut', 'gaps', 'matchLight'] as const;
type Reading = (typeof readings)[number];
export const changeClip = (id: string, change: Partial<Pick<Clip, 'name' | 'role' | 'cue' | 'start' | Reading>>): Edit =>
  edit('Change clip', (s) => {
    // One performance and one clean plate at a time: the clip that had the role becomes an element.
    if (change.role === 'performance' || change.role === 'clean')
      for (const other of Object.values(s.clips)) if (other.id !== id && other.role === change.role) other.role = 'element';
    Object.assign(s.clips[id]!, change);
    // One that was filmed at another time has another light; one that was built has that of its clip.
    if (change.role === 'clean' && !s.clips[id]!.made) s.clips[id]!.matchLight = true;
    // Later parts are of the same medium.
    const read = Object.fromEntries(Object.entries(change).filter(([field]) => (readings as readonly string[]).includes(field)));
    for (const part of Object.values(s.clips)) if (part.continues === id) Object.assign(part, read);
  });
/** Lays a stroke of other pixels over a clip's own. */
export const addRepair = (clip: string, repair: Omit<Repair, 'id'>): Edit =>
  edit('Repair', (s) => {
    const { repairs } = s.clips[clip]!;
    repairs.push({ ...repair, points: repair.points.map((p) => [...p]), id: freshId(repairs, 'p') });
  });
export const removeRepair = (clip: string, repair: string): Edit =>
  edit('Remove repair', (s) => {
    const it = s.clips[clip]!;
    it.repairs = it.repairs.filter((r) => r.id !== repair);
  });
/** The base is this clip alone, or (null) no clip. */
export const setBase = (clip: string | null): Edit =>
  edit('Set base', (s) => {
    s.base.takes = clip ? [newTake({ id: freshId(s.base.takes, 'b'), clip, start: s.first })] : [];
  });
/** Lets another clip come in at a frame, over those that are there. */
export const addTake = (id: string, clip: string, start: number): Edit =>
  edit('Add take', (s) => {
    s.base.takes.push(newTake({ id, clip, start }));
  });
export const changeTake = (id: string, change: Partial<Omit<Take, 'id' | 'values'>> & { values?: Partial<Take['values']> }): Edit =>
  edit('Change take', (s) => {
    const take = s.base.takes.find((t) => t.id === id)!,
      { values, ...rest } = change;
    Object.assign(take, rest);
    Object.assign(take.values, values);
  });
/** Puts a take one place earlier or later. */
export const moveTake = (id: string, by: -1 | 1): Edit =>
  edit('Move take', (s) => {
    const at = s.base.takes.findIndex((t) => t.id === id),
      to = at + by;
    if (at < 0 || to < 0 || to >= s.base.takes.length) return;
    const [take] = s.base.takes.splice(at, 1);
    s.base.takes.splice(to, 0, take!);
  });
export const removeTake = (id: string): Edit =>
  edit('Remove take', (s) => {
    s.base.takes = s.base.takes.filter((t) => t.id !== id);
  });
export const changeGround = (change: { clip?: string | null; values?: Base['ground']['values'] }): Edit =>
  edit('Change background', (s) => {
    if (change.clip !== undefined) s.base.ground.clip = change.clip;
    Object.assign(s.base.ground.values, change.values);
  });

/** How what effects draw is made to look filmed with the plate. */
export const changeMatch = (values: Base['match']): Edit =>
  edit('Change effects on the plate', (s) => {
    Object.assign(s.base.match, values);
  });

/** What has values and curves over time beside the rows: a clip in the shot, a detached subject, or an outline of a matte. */
export type PlacedThing = { kind: 'clip' | 'subject'; id: string } | { kind: 'outline'; matte: string; id: string };
const placedOf = (s: Draft<Shot>, of: PlacedThing): Draft<PlacedEntry> =>
  of.kind === 'outline'
    ? s.mattes[of.matte]!.outlines.find((o) => o.id === of.id)!
    : (of.kind === 'clip' ? s.clips : s.subjects)[of.id]!.placed;
export const setPlaced = (of: PlacedThing, param: string, value: StoredValue): Edit =>
  edit(of.kind === 'outline' ? 'Change outline' : 'Change placement', (s) => {
    placedOf(s, of).values[param] = value as PlacedEntry['values'][string];
  });
export const setPlacedPoint = (of: PlacedThing, key: string, point: CurvePoint): Edit =>
  edit('Set keyframe', (s) => {
    const { curves } = placedOf(s, of);
    curves[key] = withPoint(curves[key] ?? { points: [] }, point);
  });
/** Lets what is placed stand still for some frames from a frame of it on, and then go on as before. */
export const freezePlaced = (of: PlacedThing, at: number, frames: number): Edit =>
  edit('Freeze', (s) => {
    const placed = placedOf(s, of);
    placed.curves.speed = frozen(placed.curves.speed, placed.values.speed as number, at, frames);
  });
/** The same for a row that shows a clip. */
export const freezeRow = (id: string, at: number, frames: number): Edit =>
  edit('Freeze', (s) => {
    const row = s.rows[id]!;
    const first = rowRange(s as Shot, row as Row)[0],
      now = row.curves.speed && inRowFrames(s as Shot, row.curves.speed, first);
    row.curves.speed = asStored(s as Shot, frozen(now, (row.values.speed ?? 100) as number, at, frames), first);
  });
export const dropPlacedCurve = (of: PlacedThing, ...keys: string[]): Edit =>
  edit('Remove curve', (s) => {
    for (const key of keys) delete placedOf(s, of).curves[key];
  });
export const setShot = (change: Partial<Pick<Shot, 'code' | 'title' | 'first' | 'last' | 'width' | 'height' | 'rate'>>): Edit =>
  edit('Change shot', (s) => {
    Object.assign(s, change);
  });

export const addCue = (id: string, name: string, frame: number): Edit =>
  edit('Add cue', (s) => {
    s.cues[id] = { id, name: freshName(s.cues, name), frame, clip: null };
  });
export const changeCue = (id: string, change: Partial<Pick<Cue, 'name'>>): Edit =>
  edit('Change cue', (s) => {
    Object.assign(s.cues[id]!, change);
  });
/** Puts a cue at a frame of the shot; one that is pinned then is pinned to what its clip shows there. */
export const moveCue = (id: string, frame: number): Edit =>
  edit('Move cue', (s) => {
    const cue = s.cues[id]!;
    cue.frame = storedCueFrame(s as Shot, cue.clip, frame);
  });
/** Pins a cue to what a clip shows at it, with which it then moves; null lets it go. It stays where it is. */
export const pinCue = (id: string, clip: string | null): Edit =>
  edit(clip ? 'Pin cue' : 'Unpin cue', (s) => {
    const cue = s.cues[id]!,
      at = cueFrame(s as Shot, id);
    cue.clip = clip;
    cue.frame = storedCueFrame(s as Shot, clip, at);
  });
export const addTrack = (o: Parameters<typeof newTrack>[0]): Edit =>
  edit('Add track', (s) => {
    s.tracks[o.id] = newTrack({ ...o, name: freshName(s.tracks, o.name) });
  });
export const changeTrack = (id: string, change: Partial<Pick<Track, 'name' | 'at' | 'frame'>>): Edit =>
  edit('Change track', (s) => {
    Object.assign(s.tracks[id]!, change);
  });
/** Sets values of a track's kind, such as the side of its pattern; the others are fitted to them. */
export const setTrackValues = (id: string, values: Readonly<Record<string, StoredValue>>): Edit =>
  edit('Change track', (s) => {
    const track = s.tracks[id]!,
      { params, fit } = trackKinds[track.kind],
      wanted = Object.fromEntries(Object.keys(params).map((name) => [name, values[name] ?? (track as unknown as typeof values)[name]]));
    Object.assign(track, fit ? fit(wanted as never) : wanted);
  });
/** Makes a track one of another kind; what was measured, and values that both kinds have, stay. */
export const setTrackKind = (id: string, kind: KindOfTrack): Edit =>
  edit('Change kind of track', (s) => {
    const old = s.tracks[id]! as Track,
      values = old as unknown as Record<string, StoredValue>,
      { params, joins } = trackKinds[kind],
      { name, clip, at, frame, samples, corrections } = old;
    s.tracks[id] = {
      ...{ id, name, clip, at, frame, samples, corrections, kind },
      ...Object.fromEntries(Object.entries(defaultsOf(params)).map(([key, usual]) => [key, values[key] ?? usual])),
      ...namesNothing(joins),
    } as Track;
  });
/** The other track of a pair; null while none is chosen. A track of a kind that is not a pair stays as it is. */
export const pairTrack = (id: string, other: string | null): Edit =>
  edit('Pair tracks', (s) => {
    const track = s.tracks[id]! as Track;
    if ('pair' in track) track.pair = other;
  });
/** The matte that a track stands on; null while none is chosen. A track of another kind stays as it is. */
export const trackOfMatte = (id: string, matte: string | null): Edit =>
  edit('Track a matte', (s) => {
    const track = s.tracks[id]! as Track;
    if ('matte' in track) track.matte = matte;
  });
/** The tracks in whose middle a track stands. A track of another kind stays as it is. */
export const joinTracks = (id: string, others: readonly string[]): Edit =>
  edit('Join tracks', (s) => {
    const track = s.tracks[id]! as Track;
    if ('tracks' in track) track.tracks = others.map((other) => ({ track: other }));
  });
/** What was measured of tracks, by their content hashes. */
export const storeSamples = (hashes: Readonly<Record<string, string>>): Edit =>
  edit('Track', (s) => {
    for (const [id, hash] of Object.entries(hashes)) if (s.tracks[id]) s.tracks[id].samples = hash;
  });
/** Sets a track by hand on a frame of its clip; null lets what was measured count again. */
export const correctTrack = (id: string, clipFrame: number, correction: Correction | null): Edit =>
  edit('Correct track', (s) => {
    const corrections = s.tracks[id]!.corrections as Record<string, Correction>;
    if (correction) corrections[String(clipFrame)] = correction;
    else delete corrections[String(clipFrame)];
  });
/** Places for frames of a track that were doubtful, as a person would set them; one step back takes them all away. */
export const fillTrack = (id: string, places: ReadonlyMap<number, Correction>): Edit =>
  edit('Fill in track', (s) => {
    const corrections = s.tracks[id]!.corrections as Record<string, Correction>;
    for (const [clipFrame, correction] of places) corrections[String(clipFrame)] = correction;
  });
export const addSubject = (id: string, name: string, clip: string): Edit =>
  edit('Add subject', (s) => {
    s.subjects[id] = newSubject({ id, name: freshName(s.subjects, name), clip: s.clips[clip]! as Clip, shot: s as Shot });
  });
export const changeSubject = (id: string, change: Partial<Omit<Subject, 'id'>>): Edit =>
  edit('Change subject', (s) => {
    Object.assign(s.subjects[id]!, change);
  });
export const addOccluder = (id: string, name: string, matte: string): Edit =>
  edit('Add occluder', (s) => {
    s.occluders[id] = { id, name: freshName(s.occluders, name), matte };
  });
export const addRow = (o: {
  id: string;
  effect: string;
  lane: Lane;
  subject: string | null;
  start?: number;
  length?: number;
  track?: string | null;
  /** The track that it reaches for. */
  aim?: string | null;
  values?: Record<string, StoredValue>;
  curves?: Row['curves'];
}): Edit =>
  edit('Add effect', (s) => {
    const row = newRow(s as Shot, { ...o, mount: o.track ? mountOn(s, o.track) : null });
    if (o.aim) row.aim = mountOn(s, o.aim);
    s.rows[o.id] = { ...row, values: { ...row.values, ...(o.values as Row['values']) }, curves: { ...o.curves } };
  });
/** Frames that curves of a row of one frame are spread over. */
const SHORTEST = 0.001;
export const changeRow = (id: string, change: Partial<Omit<Row, 'id' | 'values' | 'curves'>>, name = 'Change effect'): Edit =>
  edit(name, (s) => {
    const row = s.rows[id]!,
      before = row.length - 1;
    Object.assign(row, change);
    if (change.length === undefined || row.curveTiming !== 'with its length') return;
    // A row of one frame keeps the shape of its curves in that frame, so that they come back with its length.
    const by = Math.max(SHORTEST, row.length - 1) / Math.max(SHORTEST, before);
    for (const curve of Object.values(row.curves)) for (const point of curve.points) if (!point.cue) point.frame *= by;
    for (const stroke of row.strokes) stroke.frame = Math.round(stroke.frame * by);
  });
export const hangRow = (id: string, track: string | null): Edit =>
  edit('Hang effect on track', (s) => {
    s.rows[id]!.mount = track ? mountOn(s, track) : null;
  });
/** Moves what an effect hangs on by an offset from its track: pixels of the body, kept when the track is mended. Others on that track stay. */
export const offsetRow = (id: string, offset: readonly [number, number]): Edit =>
  edit('Offset mount', (s) => {
    const row = s.rows[id]!,
      was = row.mount ? s.mounts[row.mount] : undefined;
    if (!was) return;
    row.mount = mountOn(s, was.track, offset, was);
    dropIdleMount(s, was.id);
  });
/** Changes how an effect is carried by its mount. Others on that track stay as they are. */
export const carryRow = (id: string, values: Readonly<Record<string, StoredValue>>): Edit =>
  edit('Change how it is carried', (s) => {
    const row = s.rows[id]!,
      was = row.mount ? s.mounts[row.mount] : undefined;
    if (!was) return;
    row.mount = mountOn(s, was.track, was.offset, { ...was, ...values } as Carriage);
    dropIdleMount(s, was.id);
  });
/** What an effect that goes from one mount to another reaches for. */
export const aimRow = (id: string, track: string | null): Edit =>
  edit('Aim effect at track', (s) => {
    s.rows[id]!.aim = track ? mountOn(s, track) : null;
  });
export const setValue = (id: string, param: string, value: StoredValue): Edit =>
  edit('Change value', (s) => {
    s.rows[id]!.values[param] = value as Row['values'][string];
  });
export const setCurve = (id: string, param: string, curve: Row['curves'][string] | null): Edit =>
  edit(curve ? 'Change curve' : 'Remove curve', (s) => {
    if (curve) s.rows[id]!.curves[param] = curve;
    else delete s.rows[id]!.curves[param];
  });
export const setCurvePoint = (id: string, param: string, point: CurvePoint): Edit =>
  edit('Set curve point', (s) => {
    const row = s.rows[id]!;
    row.curves[param] = putPoint(s as Shot, row as Row, row.curves[param], point);
  });
/** Sets a point, or the points of its two curves at a frame of the row where it has them. */
export const setPoint = (id: string, param: string, value: readonly [number, number], frameInRow: number): Edit =>
  edit('Move point', (s) => {
    const row = s.rows[id]!,
      sides = [`${param}.x`, `${param}.y`] as const;
    if (!sides.some((side) => row.curves[side])) {
      row.values[param] = [...value];
      return;
    }
    sides.forEach((side, i) => {
      const curve = row.curves[side],
        now = curve && inRowFrames(s as Shot, curve, rowRange(s as Shot, row as Row)[0]),
        point: CurvePoint = {
          frame: frameInRow,
          value: value[i]!,
          ease: (now && easeOf(now, frameInRow)) ?? 'smooth',
        };
      row.curves[side] = putPoint(s as Shot, row as Row, curve, point);
    });
  });
/** Lets a point change over time, beginning where it stands at this frame; or (null) makes it stand still again. */
export const curvePoint = (id: string, param: string, at: { frame: number; value: readonly [number, number] } | null): Edit =>
  edit(at ? 'Change curve' : 'Remove curve', (s) => {
    const { curves } = s.rows[id]!;
    (['x', 'y'] as const).forEach((side, i) => {
      if (at) curves[`${param}.${side}`] = { points: [{ frame: at.frame, value: at.value[i]!, ease: 'smooth' }] };
      else delete curves[`${param}.${side}`];
    });
  });
export const duplicateRow = (id: string, copy: string): Edit =>
  edit('Duplicate effect', (s) => {
    const row = s.rows[id]!,
      next = rowsOf(s as Shot, row.lane as Lane, row.subject).find((r) => r.order > row.order);
    s.rows[copy] = {
      ...structuredClone(current(row) as Row),
      id: copy,
      name: freshName(s.rows, row.name),
      order: generateKeyBetween(row.order, next?.order ?? null),
    };
  });

/** Puts a row into a lane, in front of (nearer than) the row `after`, or at the far end. */
export const moveRow = (id: string, lane: Lane, subject: string | null, after: string | null): Edit =>
  edit('Move effect in depth', (s) => {
    const row = s.rows[id]!,
      others = rowsOf(s as Shot, lane, subject).filter((r) => r.id !== id),
      at = after ? others.findIndex((r) => r.id === after) : -1;
    row.lane = lane;
    row.subject = subject;
    row.order = generateKeyBetween(others[at]?.order ?? null, others[at + 1]?.order ?? null);
  });
