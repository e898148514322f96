import { cos, sin } from '../image/exactMath';
import { hash, uniform } from '../image/random';
import type { Picture, Plane } from '../image/picture';
import { partOf, type Region } from '../image/resize';
import { inverseSlopes, spanAt, type Frame } from '../motion/frame';
import { param, type Values } from '../params/describe';
import { effect, type Draw } from './describe';
import { matteHoles, withoutHoles } from './holes';
import type { Box } from '../image/extent';
import { emptyRegion, litWithin } from './region';
import { APART, skinWays, type SkinWays } from './skinWays';
import { addHalo } from './strokes';
import { recipes } from './recipes/arcs';
import { awayFor, surroundParam, throwsNothing, thrownParams } from './surroundings';

const TURN = 6.283185307179586;

const params = {
  place: param.point({ default: [0, 0], title: 'Place', help: 'Centre of the arcs, px from the mount.' }),
  reach: param.length({ default: 120, title: 'Reach', range: [2, 2000], help: 'Radius at which the arcs have faded out, px.' }),
  onBody: param.share({ default: 100, title: 'Matte', help: 'Confinement of the arcs by the matte: 0 % none, 100 % full.' }),
  holes: matteHoles,
  skin: param.choice({
    default: 'round',
    of: ['round', 'flat'],
    title: 'Skin',
    help: 'Round lays the sparks around the body: they ride on its skin as it turns, and crowd towards its sides. Flat lays them straight on the picture.',
  }),
  cell: param.length({
    default: 30,
    title: 'Cell size',
    range: [3, 400],
    help: 'Size of the cells whose edges burn, px.',
    group: 'Sparks',
  }),
  width: param.length({ default: 2.2, title: 'Line width', help: 'Width of an arc, px.', range: [0.2, 60], step: 0.1, group: 'Sparks' }),
  crawl: param.number({
    default: 1.6,
    title: 'Crawls',
    unit: '/s',
    range: [0, 20],
    step: 0.1,
    help: 'Changes of the cells each second.',
    group: 'Sparks',
  }),
  lit: param.share({ default: 45, title: 'Lit', help: 'Share of the edges that burn at one time.', group: 'Sparks' }),
  hold: param.number({
    default: 2,
    title: 'Redrawn every',
    help: 'Frames from one redraw to the next.',
    unit: 'frames',
    range: [1, 60],
    step: 1,
    curve: false,
    group: 'Sparks',
  }),
  core: param.colour({ default: '#eef6ff', title: 'Core colour', group: 'Light' }),
  halo: param.length({
    default: 16,
    title: 'Halo radius',
    help: 'Radius of the halo in px, 2 × standard deviation.',
    range: [0, 300],
    group: 'Light',
  }),
  haloColour: param.colour({ default: '#54a0ff', title: 'Halo colour', group: 'Light' }),
  haloStrength: param.share({ default: 80, title: 'Halo strength', range: [0, 600], group: 'Light' }),
  strength: param.share({ default: 120, title: 'Strength', range: [0, 1000], group: 'Light' }),
  seed: param.seed({ default: 8, title: 'Seed' }),
  ...surroundParam(70),
  ...thrownParams({ onSubject: 60, onGround: 40, inAir: 0 }),
};

/** Crawling cellular sparks in a soft window on the subject. */
export const arcs = effect({
  type: 'arcs',
  version: 4,
  // Up to 1 holes of the matte were edges as others are; up to 2 it lit nothing; up to 3 it lay flat.
  upgrade: ({ values, curves }, version) => ({
    values: {
      // Its dark surround was weaker as it came.
      surround: 50,
      ...values,
      ...(version < 2 ? { holes: 'open' } : {}),
      ...(version < 3 ? { ...throwsNothing, surround: 0 } : {}),
      skin: 'flat',
    },
    curves,
  }),
  title: 'Arcs',
  summary: 'Cellular sparks that crawl over the subject in a soft window.',
  recipes,
  lanes: ['on', 'front', 'behind', 'foreground', 'whole'],
  sharp: true,
  light: true,
  throws: (v) => v,
  facts: ['frame', 'framesPerSecond', 'subjectPixels'],
  origin: 'middle',
  suggest: ({ subjectPixels }) => ({
    values: {
      reach: Math.round(subjectPixels * 0.3),
      cell: Math.max(4, Math.round(subjectPixels * 0.07)),
      ...awayFor(subjectPixels, 0.05),
    },
  }),
  params,
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' }, matte: { kind: 'matte', optional: true, title: 'Subject' } },
  without: (v) => (v.onBody <= 0 ? ['matte'] : []),
  idle: (v) => v.strength <= 0 || v.lit <= 0,
  render(draw, v, { mount, matte }) {
    const { pictures, width, height } = draw,
      [cx, cy] = mount.toPicture(v.place),
      [wide, high] = spanAt(mount, v.place, v.reach),
      window = [
        Math.max(0, Math.floor(cx - wide)),
        Math.max(0, Math.floor(cy - high)),
        Math.min(width, Math.ceil(cx + wide)),
        Math.min(height, Math.ceil(cy + high)),
      ] as const;
    if (window[2] <= window[0] || window[3] <= window[1]) return { light: emptyRegion(draw, pictures) };
    const grown = mount.scaleAt(v.place),
      light = litWithin(window, (v.halo * grown) / 2, draw, (part, region) => {
        drawSparks(part, region, window, v, mount, matte, draw);
        addHalo(part, v.halo * grown, v.haloStrength, v.haloColour, draw);
      });
    return { light };
  },
  handles: [
    { shape: 'point', moves: 'place' },
    { shape: 'radius', sets: 'reach', about: 'place' },
  ],
  checks: [
    {
      id: 'no-matte',
      find: ({ matte, name, values }) =>
        matte || values.onBody <= 0
          ? null
          : {
              text: `${name} would run over the body only, and there is no matte of it.`,
              fix: 'Give the subject a matte, or set Matte to 0 %.',
            },
    },
  ],
});

type V = Values<typeof params>;
/** Sparks in the window, laid into a picture of the region about it. */
function drawSparks(
  light: Picture,
  region: Region,
  [x0, y0, x1, y1]: Box,
  v: V,
  mount: Frame,
  matte: Plane | null,
  draw: Draw<'frame' | 'framesPerSecond' | 'subjectPixels'>,
): void {
  const { pictures } = draw,
    [cx, cy] = mount.toPicture(v.place),
    [uByX, vByX, uByY, vByY] = inverseSlopes(mount, v.place),
    grown = mount.scaleAt(v.place),
    drawing = Math.floor(draw.frame / Math.max(1, Math.round(v.hold))),
    half = Math.max(0.5, (v.width * grown) / 2),
    // A line thinner than a pixel keeps its light by being fainter.
    power = v.strength * Math.min(1, (v.width * grown) / 2 / half),
    own = matte && partOf(matte, region, pictures),
    body = own && v.holes === 'closed' ? withoutHoles(own, draw.subjectPixels * draw.scale, pictures) : own,
    inCells = (x: number, y: number): [number, number] => [x * uByX + y * uByY, x * vByX + y * vByY],
    ways =
      matte && v.skin === 'round'
        ? skinWays(matte, [cx, cy], region, pictures, v.holes === 'closed' ? draw.subjectPixels * draw.scale : 0)
        : null,
    corners = ways
      ? placesWithin(ways, [x0 - region.x, y0 - region.y, x1 - region.x, y1 - region.y])
      : [x0, x1].flatMap((x) => [y0, y1].map((y) => [x - cx, y - cy] as const)),
    cells = cellsAbout(
      corners.map(([x, y]) => inCells(x, y)),
      v,
      (draw.frame / draw.framesPerSecond) * v.crawl,
    ),
    points = pictures.takePlane(cells.points.length, 1),
    params = pictures.takePlane(24, 1),
    skin = ways && pictures.takePlane(ways.data.length, 1);
  points.data.set(cells.points);
  // Turned and sized as the cells are.
  for (let p = 0; skin && p < skin.data.length; p += 2)
    [skin.data[p], skin.data[p + 1]] = inCells(ways!.data[p]!, ways!.data[p + 1]!) as [number, number];
  params.data.set([
    ...[cx - region.x, cy - region.y, uByX, vByX, uByY, vByY, v.reach, v.cell, Math.max(1, v.cell * 0.45)],
    // The same for all sizes of the picture, another one each time that they are drawn anew.
    ...[hash(v.seed, drawing, 21) & 0xffff, half, grown, power, v.onBody, cells.first, cells.top, v.lit, drawing, v.seed, ...v.core, APART],
  ]);
  pictures.run(
    'drawArcs',
    y1 - y0,
    ...([points.address!, cells.columns, skin?.address ?? 0, ways?.width ?? 0, ways?.height ?? 0, body?.address ?? 0] as const),
    ...([params.address!, light.address!, region.width, x0 - region.x, x1 - region.x, y0 - region.y] as const),
  );
  for (const working of [points, params, skin, own, body === own ? null : body]) if (working) pictures.give(working);
}

/** The places on the skin that lie in a window, of every cell of it. */
function placesWithin({ data, width, height }: SkinWays, [x0, y0, x1, y1]: Box): [number, number][] {
  const out: [number, number][] = [];
  for (let y = Math.max(0, Math.floor(y0 / APART) - 1); y < Math.min(height, Math.ceil(y1 / APART) + 1); y++)
    for (let x = Math.max(0, Math.floor(x0 / APART) - 1); x < Math.min(width, Math.ceil(x1 / APART) + 1); x++) {
      const p = 2 * (y * width + x);
      out.push([data[p]!, data[p + 1]!]);
    }
  return out;
}

/** Points of the cells, each going round a place of its own; worked out once for every cell that the window touches. */
function cellsAbout(
  corners: readonly (readonly [number, number])[],
  v: V,
  time: number,
): { points: Float32Array; columns: number; first: number; top: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of corners) {
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  const first = Math.floor(left / v.cell) - 2,
    firstRow = Math.floor(top / v.cell) - 2,
    columns = Math.ceil(right / v.cell) + 3 - first,
    rows = Math.ceil(bottom / v.cell) + 3 - firstRow,
    points = new Float32Array(2 * columns * rows);
  for (let r = 0, k = 0; r < rows; r++)
    for (let c = 0; c < columns; c++, k += 2) {
      const i = first + c,
        j = firstRow + r,
        phase = TURN * (uniform(i, j, v.seed, 1) + time * (0.35 + 0.5 * uniform(i, j, v.seed, 2)) * 0.35);
      points[k] = (i + 0.5 + 0.42 * cos(phase) + 0.3 * (uniform(i, j, v.seed, 3) - 0.5)) * v.cell;
      points[k + 1] = (j + 0.5 + 0.42 * sin(phase) + 0.3 * (uniform(i, j, v.seed, 4) - 0.5)) * v.cell;
    }
  return { points, columns, first, top: firstRow };
}
