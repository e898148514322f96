import type { Picture } from '../image/picture';
import { atan2, clamp, cos, hypot, sin, smoothstep } from '../image/exactMath';
import { hash, uniform } from '../image/random';
import { sampled } from '../image/sampled';
import { arrivalOrder, type Arrival, type Spreading } from '../matte/arrival';
import type { Frame } from '../motion/frame';
import { CELL, Drawn, drawSprites, sheetOf, sheetsTogether } from '../particles';
import { boxOf, fallOff } from './body';
import { partAt, partsOf } from './partsOf';
import type { Canvas } from './describe';

/** Cells along a side of the lattice that motes come to, whole-shot pixels. */
const SIDE = 2 * CELL;
const TURN = 6.283185307179586;
/** How much of a mote's way a streak's direction is taken over. */
const STEP = 0.01;
/** A ring is so much wider than the part that it goes round, and seen so flat. */
const RING = { wider: 1.35, flat: 0.26 };

/** How motes fly; lengths in pixels of the picture, shares 0..1. */
export interface Flight {
  seed: number;
  motes: number;
  orbit: number;
  turns: number;
  lead: number;
  size: number;
  moteColour: readonly [number, number, number];
  moteStrength: number;
  /** Share of them that glow; the others are matter. */
  bright: number;
  /** How much of the colour of the place that it comes to a mote of matter has. */
  own: number;
  /** Share of them that go round the part of the body that they come to. */
  rings: number;
  /** Length of a streak, as a share of a mote's way. */
  streak: number;
  /** The lattice of their places goes with the mount, or stands in the picture. */
  carried: boolean;
}
/**
 * Motes on their way: each has a place on the body, sets out when the order nears it, and comes round the body on a spiral that closes there, or in a ring about
 * the part of the body (an arm, a leg, the trunk) at that height. Where it is follows from the progress alone, so that any frame can be drawn by itself and running it back
 * takes them out again.
 * @param plate where motes of matter get their colours.
 * @param reached the order that the front has come to.
 * @returns motes before the body and, where there are any, those behind it. The caller gives them back.
 */
export function flyIn(
  v: Flight,
  arrival: Arrival,
  by: Spreading,
  plate: Picture,
  standing: Frame,
  reached: number,
  draw: Canvas,
): { front: Picture; behind: Picture | undefined } {
  const { pictures, width, height, scale } = draw,
    { matte } = by,
    sheet = v.bright < 1 ? sheetsTogether(sheetOf('soft dot'), sheetOf('shard')) : sheetOf('soft dot'),
    columns = Math.ceil(width / scale / SIDE),
    rows = Math.ceil(height / scale / SIDE),
    small = arrivalOrder(arrival, standing, 1 / SIDE, [-10, 10], columns, rows, pictures, null, by),
    grown = standing.scaleAt([0, 0]),
    density = (v.motes * SIDE * SIDE * (v.carried ? grown * grown : 1)) / 100,
    box = boxOf(matte, 1, pictures),
    body = box?.map((side) => side / scale) as [number, number, number, number] | undefined,
    parts = v.rings > 0 ? partsOf(matte, scale, box ?? undefined) : null,
    // Only where the body is.
    cells = !body ? [] : v.carried && standing.hung ? cellsWithMount(standing, body) : cellsOfPicture(columns, rows, body),
    at = (x: number, y: number) =>
      matte.data[clamp(Math.floor(y * scale), 0, height - 1) * width + clamp(Math.floor(x * scale), 0, width - 1)]!,
    // 1 far away and about to set out, 0 there.
    aheadOf = (x: number, y: number) => (sampled(small, x / SIDE, y / SIDE) - reached) / v.lead,
    flying = cells
      .map((cell) => {
        const [x, y] = cell.place(0.5, 0.5);
        return {
          cell,
          ahead: aheadOf(x, y),
          there: x < 0 || y < 0 || x * scale >= width || y * scale >= height ? 0 : Math.min(2, at(x, y)),
        };
      })
      .filter(({ ahead, there }) => there >= 0.1 && ahead <= 1 && ahead >= -0.25),
    drawn = new Drawn(
      sheet,
      flying.reduce((n, { there }) => n + Math.floor(density * there) + 1, 0),
    );
  for (const { cell, ahead, there: m } of flying) {
    const n = Math.floor(density * m + uniform(v.seed, cell.id, 1));
    for (let k = 0; k < n; k++) addMote(hash(cell.id, k, v.seed), cell, ahead);
  }
  pictures.give(small);
  return drawSprites(drawn, sheet, width, height, pictures);

  function addMote(id: number, cell: Cell, ahead: number): void {
    const u = (channel: number) => uniform(v.seed, id, channel),
      [wx, wy] = cell.place(u(5), u(6)),
      [tx, ty] = [wx * scale, wy * scale],
      way = clamp(ahead + 0.22 * (u(7) - 0.5), 0, 1),
      ring = parts && u(11) < v.rings ? partAt(parts, wx, wy) : null,
      place = ring
        ? (w: number) => inRing(w, tx, ty, ring[0] * scale, ring[1] * scale, v, grown, u)
        : (w: number) => inSpiral(w, tx, ty, v, grown, u),
      [x, y, facing] = place(way),
      there = ahead < 0 ? clamp(1 + ahead * 4, 0, 1) : 1,
      comes = there * smoothstep(1, 0.75, way),
      half = 0.5 * v.size * (0.45 + 0.9 * u(10) * u(10)) * (1 + 0.5 * way),
      glows = v.bright >= 1 || u(12) < v.bright,
      behind = facing < 0 && way > 0.12;
    let [long, turn, dx, dy] = [half, 0, 0, 0];
    if (v.streak > 0) {
      const [fromX, fromY] = place(way + STEP);
      [dx, dy] = [((fromX - x) * v.streak) / STEP, ((fromY - y) * v.streak) / STEP];
      long = half + 0.5 * hypot(dx, dy);
      turn = atan2(dy, dx);
    }
    // A streak is as bright in all as what made it, less what an eye forgives.
    const thinner = long > half ? Math.sqrt(half / long) : 1;
    if (glows) {
      const cover = v.moteStrength * comes * (0.35 + 0.9 * u(9)) * (0.6 + 0.6 * fallOff(4 * way));
      drawn.add(x + dx / 2, y + dy / 2, [long, half], turn, 0, v.moteColour, cover * thinner, 0, behind);
    } else
      drawn.add(
        x + dx / 2,
        y + dy / 2,
        [long, half * (0.5 + 0.5 * u(13))],
        v.streak > 0 && long > 1.3 * half ? turn : TURN * u(14),
        1 + (id % (sheet.stamps.length - 1)),
        matterColour(wx, wy, (0.8 + 0.4 * u(15)) * (1 - 0.25 * (behind ? 1 : 0))),
        Math.min(1, v.moteStrength) * comes * thinner * (0.7 + 0.3 * u(9)),
        1,
        behind,
      );
  }
  /** The colour of a mote of matter that comes to a place of the picture. */
  function matterColour(wx: number, wy: number, shade: number): [number, number, number] {
    const i = 4 * (clamp(Math.floor(wy * scale), 0, height - 1) * width + clamp(Math.floor(wx * scale), 0, width - 1));
    return [0, 1, 2].map((c) => shade * (v.own * plate.data[i + c]! + (1 - v.own) * v.moteColour[c]!)) as [number, number, number];
  }
}

type Own = (channel: number) => number;
/** Where a mote is with `way` of its way left, 1 to 0, and which side of the body it is on: below 0 is behind. */
type At = readonly [x: number, y: number, facing: number];

function inSpiral(way: number, x: number, y: number, v: Flight, grown: number, u: Own): At {
  const eased = way * way * (3 - 2 * way),
    radius = v.orbit * grown * eased * (0.4 + 0.9 * u(2)),
    angle = TURN * (u(3) + v.turns * eased * (0.7 + 0.6 * u(4))),
    facing = sin(angle);
  return [x + radius * cos(angle), y + radius * 0.42 * facing - 0.25 * radius * (u(8) - 0.2), facing];
}
/** First in from afar, then round the part of the body at this height, last to its place. */
function inRing(way: number, x: number, y: number, middle: number, half: number, v: Flight, grown: number, u: Own): At {
  const round = smoothstep(0, 0.4, way),
    afar = smoothstep(0.55, 1.05, way),
    radius = half * (RING.wider + 0.3 * u(2)) + v.orbit * grown * afar * (0.3 + 0.7 * u(8)),
    angle = TURN * (u(3) + (0.4 + v.turns) * way * (0.9 + 0.2 * u(4))),
    facing = sin(angle);
  return [
    x + (middle + radius * cos(angle) - x) * round,
    y + round * (RING.flat * radius * facing + (u(16) - 0.5) * 0.25 * half - 0.2 * v.orbit * grown * afar),
    facing,
  ];
}

/** One cell of the lattice: its number, and the place in the picture of a place in it (0..1 each way), whole-shot pixels. */
interface Cell {
  id: number;
  place(u: number, v: number): readonly [number, number];
}
type Sides = readonly [left: number, top: number, right: number, bottom: number];
/** Cells of the picture's own lattice in a box, whole-shot pixels. */
function cellsOfPicture(columns: number, rows: number, [left, top, right, bottom]: Sides): Cell[] {
  const out: Cell[] = [];
  for (let cy = Math.max(0, Math.floor(top / SIDE)); cy < Math.min(rows, Math.ceil(bottom / SIDE)); cy++)
    for (let cx = Math.max(0, Math.floor(left / SIDE)); cx < Math.min(columns, Math.ceil(right / SIDE)); cx++)
      out.push({ id: cy * columns + cx, place: (u, v) => [(cx + u) * SIDE, (cy + v) * SIDE] });
  return out;
}
/** Those cells of a lattice that goes with a mount which the corners of a box of the picture span. */
function cellsWithMount(mount: Frame, [left, top, right, bottom]: Sides): Cell[] {
  const corners = (
      [
        [left, top],
        [right, top],
        [left, bottom],
        [right, bottom],
      ] as const
    ).map((p) => mount.toBody(p)),
    // A mount in steep perspective spans no end of cells: so many to a side hold any picture.
    bounds = (k: 0 | 1) =>
      [
        Math.max(-256, Math.floor(Math.min(...corners.map((p) => p[k])) / SIDE)),
        Math.min(256, Math.ceil(Math.max(...corners.map((p) => p[k])) / SIDE)),
      ] as const,
    [[x0, x1], [y0, y1]] = [bounds(0), bounds(1)],
    out: Cell[] = [];
  for (let cy = y0; cy < y1; cy++)
    for (let cx = x0; cx < x1; cx++)
      out.push({ id: hash(cx, cy, 77), place: (u, v) => mount.toPicture([(cx + u) * SIDE, (cy + v) * SIDE]) });
  return out;
}
