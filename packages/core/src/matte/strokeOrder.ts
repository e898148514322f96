import { clamp, hypot } from '../image/exactMath';
import type { Plane } from '../image/picture';
import { distanceAlong, STRIDE, type CellField } from './alongBody';

/** A line that a front reaches at once: its place in the order, and its points, whole-shot pixels. */
export interface OrderStroke {
  order: number;
  points: readonly (readonly [number, number])[];
}

/** Rounds of successive over-relaxation, and by how much each step goes too far, which makes the rounds few. */
const ROUNDS = 90,
  BEYOND = 1.8;
/** Cells by which the order is taken beyond the edge of the matte: edges are soft, and a draft's cells are coarse. */
const RINGS = 3;
/** Near the first and the last stroke, as a share of the whole order, what is beyond them goes on at the mean speed. */
const ENDS = 0.12;
/** How many times the straight way one along the body is at the most: strokes say themselves where a part that hangs on nothing goes. */
const LONGEST = 12;

/** Places along a line, at most a cell apart. */
function alongLine(points: OrderStroke['points']): [number, number][] {
  const out: [number, number][] = [];
  points.forEach(([x, y], i) => {
    const [bx, by] = points[i + 1] ?? [x, y],
      n = Math.max(1, Math.ceil(hypot(bx - x, by - y) / (0.7 * STRIDE)));
    for (let k = 0; k < n; k++) out.push([x + ((bx - x) * k) / n, y + ((by - y) * k) / n]);
  });
  return out;
}

/** A stroke with the places along it and how far each cell lies from it along the body. */
interface Spread {
  order: number;
  at: [number, number][];
  far: Float32Array;
}

/**
 * The order in which a body is reached by strokes: each stroke's own where it lies, as smooth as can be between them inside of the body (Laplace's equation
 * with the strokes held, as heat spreads), and on at the mean speed beyond the first and the last one. One stroke alone spreads along the body to both sides.
 * @param matte of the body, at `scale` of its pixels to a whole-shot pixel. @param reach whole-shot pixels that a front goes in the whole order, for one stroke alone.
 */
export function orderByStrokes(matte: Plane, scale: number, strokes: readonly OrderStroke[], reach: number): CellField {
  const columns = Math.max(2, Math.ceil(matte.width / scale / STRIDE)),
    rows = Math.max(2, Math.ceil(matte.height / scale / STRIDE)),
    cellOf = ([x, y]: readonly [number, number]) =>
      clamp(Math.floor(y / STRIDE), 0, rows - 1) * columns + clamp(Math.floor(x / STRIDE), 0, columns - 1),
    state = new Uint8Array(columns * rows); // 1 in the body, 2 under a stroke
  for (let y = 0, p = 0; y < rows; y++) {
    const line = Math.min(matte.height - 1, Math.floor((y + 0.5) * STRIDE * scale)) * matte.width;
    for (let x = 0; x < columns; x++, p++)
      if (matte.data[line + Math.min(matte.width - 1, Math.floor((x + 0.5) * STRIDE * scale))]! > 0.3) state[p] = 1;
  }
  const spread = strokes.map(({ order, points }): Spread => {
      const at = onBody(alongLine(points), state, columns, cellOf);
      return { order, at, far: distanceAlong(matte, scale, at, LONGEST).values };
    }),
    values = begun(spread, cellOf);
  for (const { order, at } of spread)
    for (const place of at) {
      values[cellOf(place)] = order;
      state[cellOf(place)] = 2;
    }
  relax(values, state, columns, rows);
  goOn(values, spread, state, cellOf, reach);
  spreadOut(values, state, columns, rows);
  return { columns, rows, values };
}

/** The places of a stroke that lie on the body: a hand paints across its edges. Where none does, the parts of the body that are nearest to it. */
function onBody(
  places: [number, number][],
  state: Uint8Array,
  columns: number,
  cellOf: (p: readonly [number, number]) => number,
): [number, number][] {
  const inside = places.filter((place) => state[cellOf(place)]);
  if (inside.length) return inside;
  const near: { at: [number, number]; far: number }[] = [];
  for (let p = 0; p < state.length; p++) {
    if (!state[p]) continue;
    const at: [number, number] = [((p % columns) + 0.5) * STRIDE, (Math.floor(p / columns) + 0.5) * STRIDE];
    near.push({ at, far: Math.min(...places.map(([x, y]) => hypot(x - at[0], y - at[1]))) });
  }
  const nearest = near.reduce((least, { far }) => Math.min(least, far), 1e9);
  return near.length ? near.filter(({ far }) => far <= nearest + STRIDE).map(({ at }) => at) : places;
}

/** How far two strokes are from each other along the body. */
const between = (a: Spread, b: Spread, cellOf: (p: readonly [number, number]) => number): number =>
  b.at.reduce((sum, place) => sum + a.far[cellOf(place)]!, 0) / b.at.length;

/** An order to begin with: by the way to the nearest stroke and to the next one, along the body. */
function begun(spread: readonly Spread[], cellOf: (p: readonly [number, number]) => number): Float32Array {
  const apart = spread.map((a) => spread.map((b) => (a === b ? 0 : Math.max(STRIDE, between(a, b, cellOf))))),
    values = new Float32Array(spread[0]!.far.length);
  for (let p = 0; p < values.length; p++) {
    let [one, two] = [0, -1];
    for (let i = 1; i < spread.length; i++)
      if (spread[i]!.far[p]! < spread[one]!.far[p]!) [two, one] = [one, i];
      else if (two < 0 || spread[i]!.far[p]! < spread[two]!.far[p]!) two = i;
    const a = spread[one]!,
      b = spread[two];
    if (!b) {
      values[p] = a.order;
      continue;
    }
    // 0 at the nearest and beyond it, half in the middle between the two.
    const t = clamp(0.5 - (b.far[p]! - a.far[p]!) / (2 * apart[one]![two]!), 0, 0.5);
    values[p] = a.order + t * (b.order - a.order);
  }
  return values;
}

/** Makes the values as smooth as they can be inside of the body, with those under strokes held. */
function relax(values: Float32Array, state: Uint8Array, columns: number, rows: number): void {
  const inside: number[] = [];
  for (let p = 0; p < state.length; p++) if (state[p] === 1) inside.push(p);
  for (let round = 0; round < ROUNDS; round++)
    for (let k = 0; k < inside.length; k++) {
      // There and back, so that nothing runs on to one side.
      const p = inside[round % 2 ? inside.length - 1 - k : k]!,
        x = p % columns;
      let sum = 0,
        count = 0;
      const take = (q: number) => {
        if (!state[q]) return;
        sum += values[q]!;
        count++;
      };
      if (x > 0) take(p - 1);
      if (x + 1 < columns) take(p + 1);
      if (p >= columns) take(p - columns);
      if (p + columns < columns * rows) take(p + columns);
      if (count) values[p]! += BEYOND * (sum / count - values[p]!);
    }
}

/**
 * Beyond the first and the last stroke the order would stand still: there it goes on along the body, at the mean speed, or slower where it would leave 0..1
 * before the body ends, so that all of it goes.
 */
function goOn(
  values: Float32Array,
  spread: readonly Spread[],
  state: Uint8Array,
  cellOf: (p: readonly [number, number]) => number,
  reach: number,
): void {
  const first = spread.reduce((a, b) => (b.order < a.order ? b : a)),
    last = spread.reduce((a, b) => (b.order > a.order ? b : a)),
    whole = last.order - first.order,
    alone = whole < 1e-6,
    mean = alone ? 1 / reach : whole / Math.max(STRIDE, between(first, last, cellOf)),
    // Near an end by its order: of one stroke alone everything is beyond it, later.
    ends = ENDS * whole,
    isAfter = (v: number) => (alone ? 1 : Math.max(0, 1 - Math.abs(last.order - v) / ends)),
    isBefore = (v: number) => (alone ? 0 : Math.max(0, 1 - Math.abs(v - first.order) / ends));
  let farAfter = STRIDE,
    farBefore = STRIDE;
  for (let p = 0; p < values.length; p++)
    if (state[p]) {
      farAfter = Math.max(farAfter, last.far[p]! * isAfter(values[p]!));
      farBefore = Math.max(farBefore, first.far[p]! * isBefore(values[p]!));
    }
  const after = Math.min(mean, Math.max(0, 1 - last.order) / farAfter),
    before = Math.min(mean, Math.max(0, first.order) / farBefore);
  for (let p = 0; p < values.length; p++) {
    const v = values[p]!;
    values[p] = v + after * last.far[p]! * isAfter(v) - before * first.far[p]! * isBefore(v);
  }
}

/** Takes the order a few cells beyond the edge of the body. */
function spreadOut(values: Float32Array, state: Uint8Array, columns: number, rows: number): void {
  for (let ring = 0; ring < RINGS; ring++) {
    const known = Uint8Array.from(state);
    for (let y = 0, p = 0; y < rows; y++)
      for (let x = 0; x < columns; x++, p++) {
        if (known[p]) continue;
        let sum = 0,
          count = 0;
        for (let ny = Math.max(0, y - 1); ny <= Math.min(rows - 1, y + 1); ny++)
          for (let nx = Math.max(0, x - 1); nx <= Math.min(columns - 1, x + 1); nx++)
            if (known[ny * columns + nx]) {
              sum += values[ny * columns + nx]!;
              count++;
            }
        if (!count) continue;
        values[p] = sum / count;
        state[p] = 1;
      }
  }
}
