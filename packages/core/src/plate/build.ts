import type { Pictures } from '../image/arena';
import type { Codes } from '../image/picture';
import type { Transfer } from '../image/transfer';
import { back, seenAt } from '../image/homography';
import type { Homography } from '../image/warp';
import { calmVotes, steadied } from './calm';
import { anchorOf, driftOf, farthest, inPixels, NO_DRIFT, type Camera, type Drift } from './drift';
import { cellSide, lookOver, type Cells, type Footage } from './footage';
import { grainLenders, grainOfRow } from './grain';
import { gainTable, gainsOf, isNoGain, NO_GAIN, throughTable, type Gains } from './light';
import { steadyRows, type Stand } from './steady';
import { unsureAreas, type UnsureArea } from './unsure';
import { voteOn } from './vote';

/** What a clean plate is built with. */
export interface PlateOptions {
  transfer: Transfer;
  /** Frames that are looked at, by their numbers in the footage; all of them where nothing is said. */
  use?: readonly number[];
  /** What the camera does; measured where nothing is said. */
  camera?: Camera;
  /** Whether light that flickers is evened out and put back for each frame. */
  flicker?: boolean;
  /**
   * Grain of one frame; none where nothing is said. Where the plate shows in a film, the film's own grain is put on it anew in every frame
   * (`showClean`), which a grain that stands still would only double; a plate that goes elsewhere may want it.
   */
  grain?: boolean;
}
export interface PlateReport {
  /** Frames that were looked at, and those of them that could not be laid over the others. */
  frames: number;
  leftOut: number[];
  /** The longest way that a corner drifts, pixels, and the largest change of light, per cent. */
  drift: number;
  flicker: number;
  /** Share of the picture that is unsure, and where. */
  unsure: number;
  areas: UnsureArea[];
}
export interface BuiltPlate {
  report: PlateReport;
  /** How many frames it has: one for a camera that stands still in steady light, or else as many as the footage. */
  count: number;
  /** The frame in whose camera and light it was built. */
  anchor: number;
  /** The plate as the camera and the light of a frame see it. */
  frame(index: number): Promise<Codes & { data: Uint8Array | Uint16Array }>;
  /** 0..255: how little is known of each pixel. */
  unsure: Uint8Array;
}

/** More frames than this change a plate little and cost time and memory. */
const MOST_FRAMES = 240;
/** Rows that are voted on at once. */
const STRIP = 16;
/** A drift that nobody can see, pixels. */
const STANDS = 0.15;
/** A camera that stands still explains nearly as much as the drift that was found: then it stands still, and what was found is whoever walks. */
const AS_GOOD = 0.97;
/** Share of the marks that have to agree with a frame's drift for the frame to be used. */
const AGREES = 0.3;

/** Every so many of a list, so that no more than `most` are left, from its first to its last. */
export const thinned = (list: readonly number[], most: number): number[] =>
  list.length <= most ? [...list] : Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]!);

const isStill = (map: Homography, width: number, height: number): boolean => farthest(map, width, height) < STANDS;

/** Frames from the anchor on to both ends: each is looked for where the one before it was. */
const walk = (count: number, anchor: number): [frame: number, before: number][] => [
  ...Array.from({ length: count - anchor - 1 }, (_, i): [number, number] => [anchor + 1 + i, anchor + i]),
  ...Array.from({ length: anchor }, (_, i): [number, number] => [anchor - 1 - i, anchor - i]),
];

/**
 * Builds the clean plate of a shot: what stands behind whoever moves, with the drift of the camera and the flicker of the light taken out first.
 * @param tell hears how far it is, 0..1, and what is being done.
 * @throws RangeError where there is no frame to look at.
 */
export async function buildPlate(
  footage: Footage,
  options: PlateOptions,
  pictures: Pictures,
  tell: (done: number, what: string) => void = () => undefined,
): Promise<BuiltPlate> {
  const { width, height, channels, bits, count } = footage,
    { transfer, camera = 'measured', flicker = true, grain = false } = options,
    use = thinned(
      [...new Set(options.use ?? Array.from({ length: count }, (_, i) => i))].sort((a, b) => a - b).filter((f) => f >= 0 && f < count),
      MOST_FRAMES,
    );
  if (!use.length) throw new RangeError('buildPlate: no frame to look at');
  const side = cellSide(width, height),
    // All frames are looked over where each may need a plate of its own.
    looked = camera === 'stands still' && !flicker ? use : Array.from({ length: count }, (_, i) => i),
    anchor = looked.indexOf(use[use.length >> 1]!),
    kind = camera === 'measured' ? 'shifts, turns and zooms' : camera,
    over = await lookOver(footage, looked[anchor]!),
    fixed = anchorOf(over.luma, kind),
    cells: Cells[] = looked.map(() => over.cells),
    drifts: Drift[] = looked.map(() => NO_DRIFT);
  let done = 1;
  for (const [i, before] of walk(looked.length, anchor)) {
    const seen = await lookOver(footage, looked[i]!);
    cells[i] = seen.cells;
    const found = driftOf(fixed, seen.luma, drifts[before]);
    // A frame that agrees with nothing stands where the last one that did stood.
    drifts[i] = found.agrees < AGREES ? { ...found, map: drifts[before]!.map } : found;
    tell((0.35 * ++done) / looked.length, 'looking the frames over');
  }
  const { columns, rows } = over.cells,
    // Half pixels at the edges belong to the pictures that drifts are measured in.
    maps = drifts.map((drift) => inPixels(drift, 2 * over.luma.columns, 2 * over.luma.rows)),
    inCells = (map: Homography): Homography => [
      map[0],
      map[1],
      map[2] / side,
      map[3],
      map[4],
      map[5] / side,
      map[6] * side,
      map[7] * side,
      map[8],
    ],
    stands =
      camera === 'stands still' ||
      (camera === 'measured' &&
        maps.every(
          (map, i) => drifts[i]!.agrees < AGREES || drifts[i]!.still >= AS_GOOD * drifts[i]!.agrees || isStill(map, width, height),
        ));
  const lost = new Set(stands ? [] : looked.filter((_, i) => drifts[i]!.agrees < AGREES)),
    stood = cells.map((c, i) => steadied(c, stands ? null : inCells(maps[i]!)));
  tell(0.35, 'evening the light');
  const measured: Gains[] = stood.map((c) => (flicker ? gainsOf(c, stood[anchor]!, transfer) : NO_GAIN)),
    most = Math.max(...measured.flat().map((g) => Math.abs(g - 1))),
    gains = measured.map((g) => (most < FLICKERS ? NO_GAIN : g)),
    undone = gains.map((of) => of.map((g) => 1 / g) as unknown as Gains),
    standOf = (i: number): Stand => ({ map: stands ? null : maps[i]!, gains: undone[i]! });
  stood.forEach((c, i) => evened(c, gains[i]!, transfer));
  const voting = use.filter((f) => !lost.has(f)).map((f) => looked.indexOf(f)),
    luma = voting.map((i) => lumaOf(stood[i]!)),
    votes = calmVotes(luma, columns, rows);
  if (footage.covered)
    for (const [k, i] of voting.entries()) {
      const cover = await footage.covered(looked[i]!, columns, rows);
      if (cover) leaveOut(votes[k]!, cover, stands ? null : inCells(maps[i]!), columns, rows);
    }
  tell(0.45, 'voting');

  const plate = new Float32Array(width * height * 3),
    unsure = new Uint8Array(width * height),
    plain = stands && gains.every(isNoGain) && channels === 3;
  for (let top = 0; top < height; top += STRIP) {
    const high = Math.min(STRIP, height - top),
      voted = await voteOn(
        width,
        top,
        high,
        { columns, rows, side, frames: votes },
        plain ? bits : 16,
        async (codes) => {
          const line = width * 3,
            row = line * voting.length;
          for (const [k, i] of voting.entries()) {
            const out = codes.subarray(k * line);
            if (!plain) await steadyRows(rowsOf(footage, looked[i]!), standOf(i), transfer, top, high, out as Uint16Array, row, pictures);
            else {
              const from = await footage.rows(looked[i]!, top, top + high);
              for (let y = 0; y < high; y++) out.set(from.subarray(y * line, (y + 1) * line), y * row);
            }
          }
        },
        pictures,
      );
    for (let i = 0, p = top * width; i < high * width; i++, p++) {
      for (let c = 0; c < 3; c++) plate[3 * p + c] = voted[4 * i + c]!;
      unsure[p] = Math.round(255 * voted[4 * i + 3]!);
    }
    tell(0.45 + (0.4 * (top + high)) / height, 'voting');
  }
  // Where no frame says anything, the pixels around go on.
  if (unsure.some((u) => u === 255)) fillNothing(plate, unsure, width, height);

  const grained = grain ? new Int16Array(width * height * 3) : null;
  if (grained) {
    const seen = lumaOfPlate(plate, width, height, side, columns, rows),
      own = voting.indexOf(anchor) < 0 ? 0 : voting.indexOf(anchor),
      order = voting.map((_, k) => k).sort((a, b) => Math.abs(a - own) - Math.abs(b - own)),
      lenders = grainLenders(luma, seen, order);
    for (let top = 0; top < height; top += STRIP) {
      const high = Math.min(STRIP, height - top);
      await grainOfStrip(top, high, lenders, async (k, out) =>
        steadyRows(rowsOf(footage, looked[voting[k]!]!), standOf(voting[k]!), transfer, top, high, out, width * 3, pictures),
      );
      tell(0.85 + (0.15 * (top + high)) / height, 'keeping the grain');
    }
  }
  async function grainOfStrip(
    top: number,
    high: number,
    lenders: Int16Array,
    read: (k: number, out: Uint16Array) => Promise<void>,
  ): Promise<void> {
    const line = width * 3,
      here = new Map<number, (readonly [number, number])[][]>();
    for (let y = 0; y < high; y++) {
      const row = Math.floor((top + y) / side) * columns;
      for (let c = 0; c < columns;) {
        const k = lenders[row + c]!;
        let end = c + 1;
        while (end < columns && lenders[row + end] === k) end++;
        if (k >= 0) {
          if (!here.has(k))
            here.set(
              k,
              Array.from({ length: high }, () => []),
            );
          here.get(k)![y]!.push([c * side, Math.min(width, end * side)]);
        }
        c = end;
      }
    }
    const codes = new Uint16Array(line * high);
    for (const [k, spans] of here) {
      await read(k, codes);
      for (let y = 0; y < high; y++)
        grainOfRow(
          codes.subarray(y * line, (y + 1) * line),
          plate.subarray((top + y) * line, (top + y + 1) * line),
          spans[y]!,
          grained!.subarray((top + y) * line, (top + y + 1) * line),
        );
    }
  }

  const steady16 = Uint16Array.from(plate, (v) => Math.max(0, Math.min(65535, Math.round(v)))),
    alone = stands && gains.every(isNoGain),
    deep = bits === 16 || !grained;
  const report: PlateReport = {
    frames: voting.length,
    leftOut: use.filter((f) => lost.has(f)),
    drift: stands ? 0 : Math.max(...maps.filter((_, i) => drifts[i]!.agrees >= AGREES).map((map) => farthest(map, width, height))),
    flicker: most < FLICKERS ? 0 : 100 * most,
    ...unsureAreas(unsure, width, height),
  };
  return {
    report,
    unsure,
    count: alone ? 1 : count,
    anchor: alone ? 0 : looked[anchor]!,
    async frame(index) {
      let codes = steady16;
      if (!alone) {
        codes = new Uint16Array(width * height * 3);
        await steadyRows(
          { width, height, channels: 3, bits: 16, rows: (a, b) => Promise.resolve(steady16.subarray(a * width * 3, b * width * 3)) },
          { map: stands ? null : back(maps[index]!), gains: gains[index]! },
          transfer,
          0,
          height,
          codes,
          width * 3,
          pictures,
        );
      }
      const data = deep ? new Uint16Array(codes.length) : new Uint8Array(codes.length);
      for (let i = 0; i < codes.length; i++) {
        const v = codes[i]! + (grained ? grained[i]! : 0);
        data[i] = deep ? (v < 0 ? 0 : v > 65535 ? 65535 : v) : v <= 0 ? 0 : v >= 65535 ? 255 : Math.round(v / 257);
      }
      return { width, height, channels: 3, bits: deep ? 16 : 8, data };
    },
  };
}
/** Flicker that nobody can see, and that grain and passers-by feign. */
const FLICKERS = 0.008;

const rowsOf = (footage: Footage, frame: number) => ({ ...footage, rows: (a: number, b: number) => footage.rows(frame, a, b) });

function evened(cells: Float32Array, gains: Gains, transfer: Transfer): void {
  gains.forEach((gain, c) => {
    if (gain === 1) return;
    const table = gainTable(1 / gain, transfer);
    for (let i = c; i < cells.length; i += 3) if (cells[i]! >= 0) cells[i] = throughTable(table, cells[i]!);
  });
}
function lumaOf(cells: Float32Array): Float32Array {
  const out = new Float32Array(cells.length / 3);
  for (let i = 0, p = 0; i < out.length; i++, p += 3)
    out[i] = cells[p]! < 0 ? -1 : (0.2126 * cells[p]! + 0.7152 * cells[p + 1]! + 0.0722 * cells[p + 2]!) * (255 / 65535);
  return out;
}
function lumaOfPlate(plate: Float32Array, width: number, height: number, side: number, columns: number, rows: number): Float32Array {
  const out = new Float32Array(columns * rows),
    n = new Float32Array(columns * rows);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 3) {
      const i = Math.floor(y / side) * columns + Math.floor(x / side);
      out[i]! += (0.2126 * plate[p]! + 0.7152 * plate[p + 1]! + 0.0722 * plate[p + 2]!) * (255 / 65535);
      n[i]!++;
    }
  for (let i = 0; i < out.length; i++) out[i]! /= n[i]!;
  return out;
}

/** Cells around the character that are left out with it: its edge is soft, and it moves within a frame. */
const BESIDE = 1;
/** Takes the votes of what the character covers away. */
function leaveOut(votes: Float32Array, cover: Float32Array, map: Homography | null, columns: number, rows: number): void {
  const at = (x: number, y: number) => {
    let most = 0;
    for (let j = Math.max(0, y - BESIDE); j <= Math.min(rows - 1, y + BESIDE); j++)
      for (let i = Math.max(0, x - BESIDE); i <= Math.min(columns - 1, x + BESIDE); i++) most = Math.max(most, cover[j * columns + i]!);
    return most;
  };
  for (let y = 0, i = 0; y < rows; y++)
    for (let x = 0; x < columns; x++, i++) {
      let [sx, sy] = [x, y];
      if (map) {
        [sx, sy] = seenAt(map, [x + 0.5, y + 0.5]).at.map((v) => Math.round(v - 0.5)) as [number, number];
        if (sx < 0 || sy < 0 || sx >= columns || sy >= rows) continue;
      }
      if (at(sx, sy) > 0.02) votes[i] = 0;
    }
}

/** Gives pixels of which nothing is known the mean of the known ones around, from the edge inwards. */
function fillNothing(plate: Float32Array, unsure: Uint8Array, width: number, height: number): void {
  const unknown = new Uint8Array(width * height);
  let open: number[] = [];
  for (let i = 0; i < unknown.length; i++)
    if (unsure[i] === 255 && plate[3 * i] === 0 && plate[3 * i + 1] === 0 && plate[3 * i + 2] === 0) {
      unknown[i] = 1;
      open.push(i);
    }
  while (open.length) {
    const next: number[] = [],
      done: number[] = [];
    for (const i of open) {
      const x = i % width,
        y = (i - x) / width;
      let [r, g, b, n] = [0, 0, 0, 0];
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const p = i + dy * width + dx;
          if (x + dx < 0 || x + dx >= width || y + dy < 0 || y + dy >= height || unknown[p]) continue;
          n++;
          r += plate[3 * p]!;
          g += plate[3 * p + 1]!;
          b += plate[3 * p + 2]!;
        }
      if (!n) {
        next.push(i);
        continue;
      }
      plate.set([r / n, g / n, b / n], 3 * i);
      done.push(i);
    }
    if (!done.length) return;
    for (const i of done) unknown[i] = 0;
    open = next;
  }
}
