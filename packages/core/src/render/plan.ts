import { addDifference, blendOver, layLight, mixByMask, overBehind } from '../image/blend';
import { weighedSum } from '../image/blur';
import type { Arena } from '../image/arena';
import type { Picture, Plane } from '../image/picture';
import { clampedLine, leave } from '../image/planeMath';
import type { Layers } from '../effects';
import { isIdle, whyNotVisible, type DrawnRow } from '../shot/drawn';
import { clipWithRole } from '../shot/clips';
import { subjectsInOrder } from '../shot/query';
import type { Clip, Shot, Subject } from '../shot/schema';
import { baseStep, canBeEmptied, inBase, standsAt } from './base';
import { combine } from './combine';
import { coverStep, detachedStep, emptiedWhere, keptStep } from './detached';
import type { Step } from './evaluate';
import { layersStep, treated } from './effectSteps';
import { grained } from './filmed';
import { matteInBase, matteStep } from './matteSteps';
import { keyOf } from './key';
import { sizeOf, type Factor } from './factor';
import { clearStep, grainLevel, plateStep } from './plateSteps';
import { sceneAt } from './rowPicture';
import type { Chains, Scene } from './scene';
import { remainingStep, removedStep, shownEmpty, type Part } from './removal';
import { inLightOf, type Reached } from './surroundings';
import type { Sources, Tracks } from './sources';

export interface PlanInput {
  shot: Shot;
  tracks: Tracks;
  sources: Sources;
  frame: number;
  factor: Factor;
  /** Stop after this row: the picture up to it. */
  upTo?: string | null;
  /** Kept from frame to frame and from edit to edit, so that a past that did not change is planned once. */
  chains?: Chains;
  /** The base without any row, or (an id) a clip where it stands in the base: what tracks and mattes are made from. */
  plain?: boolean | string;
}

/**
 * The picture with a row's layers laid on: blended, kept `within` a body where it stands on one, light on top (which spills past
 * edges), all limited by the row's own matte.
 * @param lit the picture in the light of the row, on which its layers are laid.
 */
function laidOn(
  row: DrawnRow,
  target: Step<Picture>,
  layers: Step<Layers>,
  scene: Scene,
  within: Step<Plane> | null = null,
  lit: Step<Picture> = target,
): Step<Picture> {
  const matteOf = (id: string | null) =>
      id === null ? null : matteStep(scene, scene.shot.mattes[id]!, scene.frame, scene.factor, row.subject?.id),
    limit = matteOf(row.limit),
    above = matteOf(row.under),
    opacity = row.opacity / 100,
    // Only among the lanes of a subject is there something to fly behind.
    flat = row.lanedAt === null,
    // Where it is limited, its light on things is too.
    kept = lit !== target && (limit || above) ? target : null;
  return {
    key: keyOf('lay', row.blend, row.opacity, flat, row.effect!.flies, lit.key, layers.key, limit?.key, above?.key, within?.key),
    inputs: [lit, layers, ...(limit ? [limit] : []), ...(above ? [above] : []), ...(within ? [within] : []), ...(kept ? [kept] : [])],
    keep: 'never',
    row: row.row,
    run([below, given, ...more]: [Picture, Layers, ...(Plane | Picture)[]], arena, owned) {
      const plain = kept ? (more.pop() as Picture) : below,
        planes = more as Plane[],
        mask = limit ? planes[0] : undefined,
        parts = above ? planes[limit ? 1 : 0] : undefined,
        body = within ? planes[planes.length - 1] : undefined;
      let now = below,
        // Whether `now` may be written into: ours, or the last use of the picture below where nothing is mixed with it afterwards.
        mine = owned(0) && !mask && !parts && !body;
      const put = (next: Picture, ours = true) => {
        if (now !== below && mine && next !== now) arena.give(now);
        now = next;
        mine = ours;
      };
      const into = () => (mine ? now : undefined);
      if (given.changed) {
        if (row.blend === 'normal' && opacity === 1) put(given.changed, false);
        else if (row.blend === 'normal') put(weighedSum(below, even(1 - opacity), given.changed, even(opacity), arena));
        else put(blendOver(given.changed, below, row.blend, opacity, arena));
      }
      if (flat && given.behind && row.effect!.flies) put(blendOver(given.behind, now, row.blend, opacity, arena, into()));
      if (given.shade) put(blendOver(given.shade, now, 'normal', opacity, arena, into()));
      if (given.layer) put(blendOver(given.layer, now, row.blend, opacity, arena, into()));
      if (body && now !== below) put(mixByMask(below, now, body, arena, into()));
      if (given.light) put(layLight(given.light, now, row.blend === 'add' ? 'add' : 'screen', opacity, arena, into()));
      if (mask && now !== plain) put(mixByMask(plain, now, mask, arena, into()));
      if (parts && now !== plain) put(mixByMask(now, plain, parts, arena, into()));
      return now;
    },
  };
}
const even = (k: number) => [k, k, k, k] as const;

/** Rows that stand together and are laid on as one picture, or a single one. */
type Unit = readonly [DrawnRow, ...DrawnRow[]];
function unitsOf(rows: readonly DrawnRow[]): Unit[] {
  const units: [DrawnRow, ...DrawnRow[]][] = [];
  for (const row of rows) {
    const last = units.at(-1);
    if (row.asOne && last?.[0].asOne?.group === row.asOne.group) last.push(row);
    else units.push([row]);
  }
  return units;
}
/** Rows of a group as one picture, premultiplied over nothing, with the group's own treatments: what changes the picture below changes only theirs. */
function together(scene: Scene, rows: Unit): Step<Layers> {
  const one = rows.reduce<Step<Picture>>(
    (below, row) => laidOn(row, below, layersStep(scene, row, below), scene),
    clearStep(sizeOf(scene.shot, scene.factor)),
  );
  return treated(
    scene,
    rows[0],
    rows[0].asOne!.treatments,
    combine('one picture', [one], ([layer]: [Picture]): Layers => ({ layer }), rows[0].row) as Step<Layers>,
  );
}

/** Product of (1 - matte) over subjects: what they leave free. Null where nothing stands in the way. */
function holdout(mattes: Step<Plane>[]): Step<Plane> | null {
  if (!mattes.length) return null;
  return combine('holdout', mattes, (values: Plane[], arena) => {
    const out = clampedLine(values[0]!, -1, 1, arena);
    for (const matte of values.slice(1)) leave(out, matte, arena, 1, out);
    return out;
  }) as Step<Plane>;
}
/** base + weight (after - before), or just `after` where nothing weighs. */
function difference(base: Step<Picture>, before: Step<Picture>, after: Step<Picture>, weight: Step<Plane> | null): Step<Picture> {
  if (!weight) return after;
  if (base.key === before.key)
    return combine('masked', [base, after, weight], ([b, a, w]: [Picture, Picture, Plane], arena: Arena, owned) =>
      mixByMask(b, a, w, arena, owned(0) ? b : owned(1) ? a : undefined),
    ) as Step<Picture>;
  return combine('difference', [base, before, after, weight], ([p, b, a, w]: [Picture, Picture, Picture, Plane], arena: Arena, owned) =>
    addDifference(p, b, a, w, arena, owned(0) ? p : undefined),
  ) as Step<Picture>;
}

/**
 * What must be computed for a frame: the stack from far to near, as one graph of steps. Without an active row it is the base's own
 * plate step, so an idle shot is its plate to the bit.
 */
export function planFrame(input: PlanInput): Step<Picture> {
  const { shot, tracks, sources, frame, factor, upTo } = input,
    scene = sceneAt(shot, tracks, sources, frame, factor, input.chains ?? null),
    { drawn } = scene,
    looked = typeof input.plain === 'string' ? shot.clips[input.plain] : undefined;
  if (looked) return plateStep(shot, looked, frame, factor, sources);
  const plate = baseStep(scene, frame, factor),
    clean = clipWithRole(shot, 'clean');
  if (input.plain) return plate;
  const active = (row: DrawnRow) => whyNotVisible(row, frame) === null && !isIdle(row, frame);
  /** Rows of a lane as they show now: what hangs on a track that is lost may fade, and a gate lets more or less through. */
  const rowsIn = (lane: Parameters<typeof drawn.in>[0], subject: string | null): readonly DrawnRow[] =>
    drawn.in(lane, subject).map((row) => {
      const open = row.gate ? scene.mounts.gate(row.gate, frame) : 1,
        seen = row.mount && shot.mounts[row.mount]?.fade ? (scene.mounts.at(row.mount, frame, row.subject?.id)?.shown ?? 1) : 1;
      const shown = open * seen;
      return shown < 1 ? { ...row, opacity: row.opacity * shown } : row;
    });
  let stopped = false;
  const live = (row: DrawnRow): boolean => {
    const wanted = row.row === upTo;
    // Its twins belong to it.
    if (stopped && !wanted) return false;
    if (wanted) stopped = true;
    return active(row);
  };

  // Rows that take subjects apart come first: they decide what stands in the base.
  const subjects = subjectsInOrder(shot),
    dissolving = new Map<string, Part[]>();
  let picture: Step<Picture> = plate,
    behind: Step<Picture> = baseStep(scene, frame, factor, true);
  const remaining = new Map<string, Step<Plane>>(),
    apart = new Map<string, Step<Picture>>(),
    gone = new Set<string>(),
    empty = (clip: Clip) => ({
      plate: behind,
      level: clean && clip.role === 'performance' ? grainLevel(shot, clip, clean, factor, sources) : null,
    });
  for (const subject of subjects) {
    const matte = subject.matte ? shot.mattes[subject.matte] : undefined,
      clip = shot.clips[subject.clip];
    // With its take it has gone: nothing has to be kept off it.
    if (clip && !subject.detached && !standsAt(shot, clip.id, frame)) gone.add(subject.id);
    if (!matte || !clip || gone.has(subject.id)) continue;
    const parts = rowsIn('on', subject.id)
        .filter((row) => active(row) && row.effect!.removes)
        .map((row) => ({ row, layers: layersStep(scene, row, plate) })),
      layer = subject.detached ? detachedStep(scene, subject, clip, frame, factor) : null;
    let left: Step<Plane> = layer ? coverStep(layer) : matteStep(scene, matte, frame, factor, subject.id);
    if (layer && inBase(shot, clip.id) && canBeEmptied(shot, clip))
      picture = shownEmpty(picture, empty(clip), emptiedWhere(scene, subject, frame, factor), frame);
    if (parts.length) {
      dissolving.set(subject.id, parts);
      const whole = left;
      left = remainingStep(left, parts);
      if (layer) apart.set(subject.id, keptStep(layer, whole, left));
      else if (canBeEmptied(shot, clip)) {
        const traces =
          subject.traces && shot.mattes[subject.traces] ? matteStep(scene, shot.mattes[subject.traces]!, frame, factor, subject.id) : null;
        picture = removedStep(picture, empty(clip), left, parts, traces, frame);
      }
    } else if (layer) apart.set(subject.id, layer);
    remaining.set(subject.id, left);
  }

  // A detached subject is in no picture until it is laid back: nothing has to be kept off it.
  const laidBack = new Set<string>(),
    nearer = (from: number) =>
      holdout(subjects.slice(from).flatMap((s) => (apart.has(s.id) && !laidBack.has(s.id) ? [] : (remaining.get(s.id) ?? []))));
  /** Changes the picture behind subjects `from` and nearer. */
  const layBehind = (change: (target: Step<Picture>) => Step<Picture>, from: number) => {
    const weight = nearer(from);
    if (!weight) {
      picture = change(picture);
      behind = picture;
      return;
    }
    const after = change(behind);
    picture = difference(picture, behind, after, weight);
    behind = after;
  };
  /** What is left of the subject that a row lights. */
  const litBy = (row: DrawnRow): Step<Plane> | null => (row.subject && remaining.get(row.subject.id)) || null,
    lay =
      (unit: Unit, within: Step<Plane> | null = null, reached: Reached = 'all') =>
      (below: Step<Picture>) => {
        // Who edits this row sees everything below it unchanged.
        const target: Step<Picture> = below.keep === 'never' ? { ...below, keep: 'at the playhead' } : below,
          [row] = unit,
          lit = unit.reduce((now, one) => inLightOf(scene, one, now, layersStep(scene, one, target), litBy(one), reached), target);
        if (!row.asOne) return laidOn(row, target, layersStep(scene, row, target), scene, within, lit);
        const { opacity, blend, limit } = row.asOne;
        return laidOn({ ...row, opacity, blend, limit, under: null }, target, together(scene, unit), scene, within, lit);
      };
  const laid =
    (part: 'behind' | 'front' | 'light', layers: Step<Layers>, opacity: number, row: string) =>
    (target: Step<Picture>): Step<Picture> =>
      combine(
        `part ${part} ${opacity}`,
        [target, layers],
        ([below, given]: [Picture, Layers], arena: Arena, owned) => {
          const source = given[part],
            into = owned(0) ? below : undefined;
          return !source
            ? below
            : part === 'light'
              ? layLight(source, below, 'screen', opacity, arena, into)
              : blendOver(source, below, 'normal', opacity, arena, into);
        },
        row,
      ) as Step<Picture>;

  /** Flakes behind subjects: in one pass, since they are few pixels; what stands behind with them on it is only made where a row needs it. */
  const layFlakesBehind = (layers: Step<Layers>, row: DrawnRow, from: number) => {
    const weight = nearer(from),
      opacity = row.opacity / 100,
      change = laid('behind', layers, opacity, row.row);
    if (!weight) {
      layBehind(change, from);
      return;
    }
    picture = combine(
      `flakes behind ${opacity}`,
      [picture, layers, behind, weight],
      ([p, given, b, w]: [Picture, Layers, Picture, Plane], arena: Arena, owned) =>
        given.behind ? overBehind(given.behind, p, b, w, opacity, arena, owned(0) ? p : undefined) : p,
      row.row,
    ) as Step<Picture>;
    behind = change(behind);
  };

  /** Rows behind a subject, whose light falls on it from behind once it stands in the picture. */
  const fromBehind = new Map<string, DrawnRow[]>(),
    layBehindLit = (unit: Unit, from: number) => {
      layBehind(lay(unit, null, 'around'), from);
      for (const row of unit)
        if (row.subject && !gone.has(row.subject.id)) fromBehind.set(row.subject.id, [...(fromBehind.get(row.subject.id) ?? []), row]);
    },
    liveIn = (...of: Parameters<typeof rowsIn>): Unit[] => unitsOf(rowsIn(...of).filter(live));
  for (const unit of liveIn('background', null)) layBehindLit(unit, 0);
  subjects.forEach((subject: Subject, i) => {
    const own = remaining.get(subject.id) ?? null,
      front = nearer(i + 1);
    const parts = dissolving.get(subject.id) ?? [];
    /** What flies behind the subject of a row that stands on it or before it. */
    const layWhatFlies = (row: DrawnRow) => {
      if (row.effect!.flies) layFlakesBehind(layersStep(scene, row, picture), row, i);
    };
    for (const unit of liveIn('behind', subject.id)) {
      unit.forEach(layWhatFlies);
      layBehindLit(unit, i);
    }
    for (const { row, layers } of parts) if (!stopped || upTo === row.row) layFlakesBehind(layers, row, i);
    const layer = apart.get(subject.id);
    if (layer) {
      // What stands behind nearer subjects has it too.
      layBehind(
        (below) =>
          combine('laid back', [below, layer], ([far, near]: [Picture, Picture], arena: Arena, owned) =>
            blendOver(near, far, 'normal', 1, arena, owned(0) ? far : undefined),
          ) as Step<Picture>,
        i,
      );
      laidBack.add(subject.id);
    }
    for (const row of fromBehind.get(subject.id) ?? []) {
      const lit = inLightOf(scene, row, picture, layersStep(scene, row, picture), own, 'subject');
      if (lit !== picture) picture = difference(picture, picture, lit, front);
    }
    for (const unit of liveIn('on', subject.id)) {
      if (gone.has(subject.id)) continue;
      const [row] = unit,
        part = parts.find((p) => p.row.id === row.id);
      if (part) {
        const lit = inLightOf(scene, row, picture, part.layers, own);
        if (lit !== picture) picture = difference(picture, picture, lit, front);
        for (const name of ['front', 'light'] as const)
          picture = difference(picture, picture, laid(name, part.layers, row.opacity / 100, row.row)(picture), front);
        continue;
      }
      unit.forEach(layWhatFlies);
      picture = difference(picture, picture, lay(unit, own)(picture), front);
    }
    for (const unit of liveIn('front', subject.id)) {
      unit.forEach(layWhatFlies);
      picture = difference(picture, picture, lay(unit)(picture), front);
    }
  });
  if (picture.key !== plate.key)
    for (const occluder of Object.values(shot.occluders)) {
      const matte = shot.mattes[occluder.matte];
      if (matte)
        picture = combine(
          'occluder',
          [picture, plate, matteInBase(scene, matte, frame, factor)],
          ([p, own, m]: [Picture, Picture, Plane], arena: Arena, owned) => mixByMask(p, own, m, arena, owned(0) ? p : undefined),
        ) as Step<Picture>;
    }
  for (const unit of liveIn('foreground', null)) picture = lay(unit)(picture);
  // What changes the whole picture does so as a lens or a lab would: with the grain of what was drawn before it.
  const ownGrain = drawn.rows.some((row) => row.effect?.grains && active(row)),
    changes = (row: DrawnRow) => Object.values(row.effect!.inputs).some((input) => input.kind === 'below');
  let bare = !ownGrain;
  for (const unit of liveIn('whole', null)) {
    if (bare && unit.some(changes)) {
      picture = grained(scene, picture, plate);
      bare = false;
    }
    picture = lay(unit)(picture);
  }
  if (bare && !stopped) picture = grained(scene, picture, plate);
  return picture;
}
