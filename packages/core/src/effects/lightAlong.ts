import { withAddresses } from '../image/kernelCall';
import type { Pictures } from '../image/arena';
import type { Picture } from '../image/picture';

type Rgb = readonly [number, number, number];

/** A line of light: its middle, the picture's pixels, and how far each point of it moves while the shutter is open. */
export interface LightLine {
  x: ArrayLike<number>;
  y: ArrayLike<number>;
  moves?: { x: ArrayLike<number>; y: ArrayLike<number> };
}
/** How it is drawn; lengths in the picture's pixels. */
export interface LineLook {
  /** Width of the core at its widest, and how far its edge is soft: a share of that, and pixels. `blunt` keeps the softness outside of the middle. */
  core: number;
  soft: number;
  edge: number;
  blunt?: boolean;
  coreColour: Rgb;
  gain: number;
  /** Narrowing towards the end, 0..1, below 0 towards the beginning. */
  taper: number;
  power: number;
  halo?: {
    /** Width at which it has fallen to 1 / e, and its strength and colour. */
    width: number;
    strength: number;
    colour: Rgb;
    /** It is narrower where the line begins to widen. */
    narrows: boolean;
  };
  /** For places along the line: how far it has widened, 0..1, and how much wider and stronger its halo is. */
  along?: { begins: ArrayLike<number>; breath: ArrayLike<number> };
  /** How far head and tail have gone along it, 0..1, when the shutter opens and when it closes. */
  head: readonly [number, number];
  tail: readonly [number, number];
  /** Pixels from the line at which nothing is left. */
  far: number;
  /** How far beyond a joint a piece still counts, pixels; nothing is left out where it is not given, which takes longer. */
  joint?: number;
}
const STEADY = { begins: [1, 1], breath: [0, 0] };
const FLOATS = 24;

/** Lays a line of light into a picture of light without coverage; where it meets what is there, the stronger one counts. */
export function lightAlong(out: Picture, line: LightLine, look: LineLook, pictures: Pictures): void {
  const pieces = line.x.length - 1,
    { begins, breath } = look.along ?? STEADY,
    places = begins.length,
    { halo, moves } = { halo: look.halo, moves: line.moves },
    nodes = pictures.takePlane(4 * (pieces + 1), 1),
    table = pictures.takePlane(2 * places, 1),
    params = pictures.takePlane(FLOATS, 1);
  let [top, bottom] = [Infinity, -Infinity];
  for (let i = 0; i <= pieces; i++) {
    nodes.data.set([line.x[i]!, line.y[i]!, moves?.x[i] ?? 0, moves?.y[i] ?? 0], 4 * i);
    top = Math.min(top, line.y[i]!);
    bottom = Math.max(bottom, line.y[i]!);
  }
  table.data.set(begins);
  table.data.set(breath, places);
  params.data.set([
    ...[look.core, look.soft, look.edge, halo?.width ?? 0, halo?.strength ?? 0, look.taper, halo?.narrows ? 1 : 0, look.far],
    ...[look.power, look.gain, ...look.tail, ...look.head, look.joint ?? 1e9, moves ? 1 : 0],
    ...[...look.coreColour, look.blunt ? 1 : 0, ...(halo?.colour ?? [0, 0, 0]), places],
  ]);
  const y0 = Math.max(0, Math.floor(top - look.far)),
    y1 = Math.min(out.height, Math.ceil(bottom + look.far));
  if (y1 > y0)
    withAddresses(pictures, [nodes, table, params, out], (at, places, given, to) =>
      pictures.run('lightAlong', y1 - y0, at!, pieces, places!, given!, to!, out.width, y0),
    );
  for (const working of [nodes, table, params]) pictures.give(working);
}
