import { clamp, cos, sin, smoothstep } from '../image/exactMath';
import { noise2 } from '../image/noise';
import { hash, uniform } from '../image/random';
import { inverseSlopes, spanAt } from '../motion/frame';
import { param } from '../params/describe';
import { effect } from './describe';
import { matteHoles, withoutHoles } from './holes';
import { addHalo } from './strokes';
import { recipes } from './recipes/arcs';
import { awayFor, surroundParam, throwsNothing, thrownParams } from './surroundings';

const TURN = 6.283185307179586;

/** Crawling cellular sparks in a soft window on the subject. */
export const arcs = effect({
  type: 'arcs',
  version: 3,
  // Up to 1 holes of the matte were edges as others are; up to 2 it lit nothing.
  upgrade: ({ values, curves }, version) => ({
    values: { ...values, ...(version < 2 ? { holes: 'open' } : {}), ...throwsNothing, surround: 0 },
    curves,
  }),
  title: 'Arcs',
  summary: 'Cellular sparks that crawl over the subject in a soft window.',
  recipes,
  lanes: ['on', 'front', 'behind', 'foreground', 'whole'],
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
  params: {
    place: param.point({ default: [0, 0], title: 'Place', help: 'Centre of the arcs, px from the mount.' }),
    reach: param.length({ default: 120, title: 'Reach', range: [2, 2000], help: 'Radius at which the arcs have faded out, px.' }),
    onBody: param.share({ default: 100, title: 'Matte', help: 'Confinement of the arcs by the matte: 0 % none, 100 % full.' }),
    holes: matteHoles,
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
    ...surroundParam(50),
    ...thrownParams({ onSubject: 60, onGround: 40, inAir: 0 }),
  },
  inputs: { mount: { kind: 'mount', optional: true, title: 'Mount' }, matte: { kind: 'matte', optional: true, title: 'Subject' } },
  without: (v) => (v.onBody <= 0 ? ['matte'] : []),
  idle: (v) => v.strength <= 0 || v.lit <= 0,
  render(draw, v, { mount, matte }) {
    const { pictures, width, height, frame, framesPerSecond } = draw,
      light = pictures.takePicture(width, height),
      o = light.data,
      [cx, cy] = mount.toPicture(v.place),
      [uByX, vByX, uByY, vByY] = inverseSlopes(mount, v.place),
      grown = mount.scaleAt(v.place),
      time = (frame / framesPerSecond) * v.crawl,
      drawing = Math.floor(frame / Math.max(1, Math.round(v.hold))),
      half = Math.max(0.5, (v.width * grown) / 2),
      // A line thinner than a pixel keeps its light by being fainter.
      fine = Math.max(1, v.cell * 0.45),
      // The same for all sizes of the picture, another one each time that they are drawn anew.
      roughness = hash(v.seed, drawing, 21) & 0xffff,
      power = v.strength * Math.min(1, (v.width * grown) / 2 / half),
      body = matte && v.holes === 'closed' ? withoutHoles(matte, draw.subjectPixels * draw.scale, pictures) : matte;
    pictures.run('clear', height, light.address!, width * 4);
    // Points of the cells, each going round a place of its own; worked out once for every cell that the window touches.
    const [wide, high] = spanAt(mount, v.place, v.reach),
      x0 = Math.max(0, Math.floor(cx - wide)),
      x1 = Math.min(width, Math.ceil(cx + wide)),
      y0 = Math.max(0, Math.floor(cy - high)),
      y1 = Math.min(height, Math.ceil(cy + high)),
      // The cells ride with the window, and turn with it.
      corners = [x0, x1].flatMap((x) => [y0, y1].map((y) => [(x - cx) * uByX + (y - cy) * uByY, (x - cx) * vByX + (y - cy) * vByY])),
      us = corners.map((c) => c[0]!),
      vs = corners.map((c) => c[1]!),
      first = Math.floor(Math.min(...us) / v.cell) - 2,
      top = Math.floor(Math.min(...vs) / v.cell) - 2,
      columns = Math.ceil(Math.max(...us) / v.cell) + 3 - first,
      rows = Math.ceil(Math.max(...vs) / v.cell) + 3 - top;
    if (x1 <= x0 || y1 <= y0) return { light };
    const px = new Float64Array(columns * rows),
      py = new Float64Array(columns * rows);
    for (let r = 0, k = 0; r < rows; r++)
      for (let c = 0; c < columns; c++, k++) {
        const i = first + c,
          j = top + r,
          phase = TURN * (uniform(i, j, v.seed, 1) + time * (0.35 + 0.5 * uniform(i, j, v.seed, 2)) * 0.35);
        px[k] = (i + 0.5 + 0.42 * cos(phase) + 0.3 * (uniform(i, j, v.seed, 3) - 0.5)) * v.cell;
        py[k] = (j + 0.5 + 0.42 * sin(phase) + 0.3 * (uniform(i, j, v.seed, 4) - 0.5)) * v.cell;
      }
    for (let y = y0; y < y1; y++)
      for (let x = x0; x < x1; x++) {
        const onX = x + 0.5 - cx,
          onY = y + 0.5 - cy,
          dx = onX * uByX + onY * uByY,
          dy = onX * vByX + onY * vByY,
          far = Math.sqrt(dx * dx + dy * dy) / v.reach;
        if (far >= 1) continue;
        const held = body ? 1 - v.onBody + v.onBody * clamp(body.data[y * width + x]!, 0, 1) : 1;
        if (held < 0.01) continue;
        // Edges of cells are straight; sparks are not.
        const wx =
            dx +
            v.cell *
              (0.5 * noise2(dx / fine, dy / fine, roughness) + 0.22 * noise2(dx / (fine * 0.4), dy / (fine * 0.4), roughness + 1) - 0.36),
          wy =
            dy +
            v.cell *
              (0.5 * noise2(dx / fine, dy / fine, roughness + 2) +
                0.22 * noise2(dx / (fine * 0.4), dy / (fine * 0.4), roughness + 3) -
                0.36);
        const ci = Math.floor(wx / v.cell) - first,
          cj = Math.floor(wy / v.cell) - top;
        let a = 1e18,
          b = 1e18,
          one = 0,
          two = 0;
        for (let j = cj - 1; j <= cj + 1; j++)
          for (let i = ci - 1; i <= ci + 1; i++) {
            const k = j * columns + i,
              ex = px[k]! - wx,
              ey = py[k]! - wy,
              d = ex * ex + ey * ey;
            if (d < a) {
              b = a;
              two = one;
              a = d;
              one = k;
            } else if (d < b) {
              b = d;
              two = k;
            }
          }
        // The way to the edge between the two nearest points.
        const ex = px[one]! - px[two]!,
          ey = py[one]! - py[two]!,
          edge = (grown * (b - a)) / (2 * Math.max(1e-6, Math.sqrt(ex * ex + ey * ey)));
        if (edge > half + 1) continue;
        const lower = Math.min(one, two),
          higher = Math.max(one, two),
          burns = uniform(lower, higher, drawing, v.seed);
        if (burns > v.lit) continue;
        const value =
            power *
            held *
            smoothstep(1, 0.35, far) *
            smoothstep(half + 0.7, Math.max(0, half - 0.7), edge) *
            (0.45 + 0.55 * uniform(higher, lower, drawing, 9)),
          i = (y * width + x) * 4;
        for (let c = 0; c < 3; c++) o[i + c] = value * v.core[c]!;
      }
    if (body && body !== matte) pictures.give(body);
    addHalo(light, v.halo * grown, v.haloStrength, v.haloColour, draw);
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
              fix: 'Give the subject a matte, or set Only on the body to 0.',
            },
    },
  ],
});
