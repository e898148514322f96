/**
 * Draws the outlines of the mattes of TW_010 and TW_020 around where Ilse truly stands, as a person would with care, and writes standing.ts:
 * `node scripts/run.mjs packages/demo/src/writeStanding.ts`, after a clip was drawn anew.
 */
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Arena, newPlane, type Plane } from '@wraithos/core/image';
import { growMatte } from '@wraithos/core/matte';
import { FrameStore, hashMedium, probe } from '@wraithos/runtime';
import { HEIGHT, WIDTH } from './measures';

type P = [number, number];
/** Where the outline of a shot's matte comes from: the frames of its clip in which she stands, and what her place is counted from. */
const wanted = [
  { code: 'TW_010', name: 'STANDING', from: 62, to: 95, moves: null, about: 'with the lantern up' },
  {
    code: 'TW_020',
    name: 'STANDING_020',
    from: 93,
    to: 119,
    moves: 'camera',
    about: 'with the lantern up, as the camera saw her at frame 100',
  },
] as const;
/** The frame of TW_020's clip in whose drift its outline is drawn. */
const AT = 100;
const folder = await mkdtemp(join(tmpdir(), 'wraithos-standing-')),
  store = new FrameStore(folder);

/** Everything that she covers in some frame of a shot, with its gaps closed, a pixel more around it. */
async function covered({ code, from, to, moves }: (typeof wanted)[number]): Promise<Plane> {
  const media = join(process.cwd(), 'packages', 'demo', 'media', code),
    path = join(media, 'truth-matte.mp4'),
    hash = await hashMedium(path),
    truth = JSON.parse(await readFile(join(media, 'truth.json'), 'utf8')) as Record<string, P[]>;
  await store.add(hash, path, await probe(path));
  const arena = new Arena(64 * 2 ** 20),
    all = arena.takePlane(WIDTH, HEIGHT);
  all.data.fill(0);
  for (let f = from; f <= to; f++) {
    const { data, channels } = await store.codes(hash, f),
      [dx, dy] = moves ? (truth[moves]![f]!.map((v, c) => Math.round(truth[moves]![AT]![c]! - v)) as P) : [0, 0];
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++)
        if (data[(y * WIDTH + x) * channels]! > 40) {
          const [X, Y] = [x + dx, y + dy];
          if (X >= 0 && Y >= 0 && X < WIDTH && Y < HEIGHT) all.data[Y * WIDTH + X] = 1;
        }
  }
  // Gaps between arm, scarf and coat are closed; the outline lies a pixel outside.
  for (const by of [9, -8]) growMatte(all, by, arena);
  const copy = newPlane(WIDTH, HEIGHT);
  copy.data.set(all.data);
  return copy;
}

/** The outer boundary of what is covered, clockwise from its topmost pixel, along pixel edges. */
function boundary({ data, width, height }: Plane): P[] {
  const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < height && data[y * width + x]! > 0.5,
    first = data.findIndex((v) => v > 0.5),
    start: P = [first % width, Math.floor(first / width)],
    out: P[] = [];
  // Walks along edges with the body at its right: east, south, west, north.
  const ways: P[] = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ];
  let [x, y] = start,
    way = 0;
  do {
    out.push([x, y]);
    const [dx, dy] = ways[way]!;
    x += dx;
    y += dy;
    // Pixels ahead at the left and at the right of the corner that it has come to.
    const ahead = (side: -1 | 0) => {
      const corners: Record<number, [P, P]> = {
          0: [
            [0, -1],
            [0, 0],
          ],
          1: [
            [0, 0],
            [-1, 0],
          ],
          2: [
            [-1, 0],
            [-1, -1],
          ],
          3: [
            [-1, -1],
            [0, -1],
          ],
        },
        [cx, cy] = corners[way]![side === -1 ? 0 : 1];
      return inside(x + cx, y + cy);
    };
    if (ahead(-1)) way = (way + 3) % 4;
    else if (!ahead(0)) way = (way + 1) % 4;
  } while (x !== start[0] || y !== start[1]);
  return out;
}
/** Leaves out points that the line between their neighbours passes within `slack` pixels (Douglas and Peucker). */
function simplified(points: P[], slack: number): P[] {
  if (points.length < 3) return points;
  const [a, b] = [points[0]!, points[points.length - 1]!],
    long = Math.max(1e-9, Math.hypot(b[0] - a[0], b[1] - a[1]));
  let worst = 0,
    at = 0;
  points.forEach((p, i) => {
    const d =
      long < 1 ? Math.hypot(p[0] - a[0], p[1] - a[1]) : Math.abs((b[0] - a[0]) * (a[1] - p[1]) - (a[0] - p[0]) * (b[1] - a[1])) / long;
    if (d > worst) [worst, at] = [d, i];
  });
  return worst <= slack ? [a, b] : [...simplified(points.slice(0, at + 1), slack).slice(0, -1), ...simplified(points.slice(at), slack)];
}
let text = '';
for (const shot of wanted) {
  const line = boundary(await covered(shot)),
    outline = simplified([...line, line[0]!], 1.3).slice(0, -1);
  text += `${text ? '\n' : ''}/** Ilse where she stands in ${shot.code}, ${shot.about}, drawn closely around: the outline of its matte. Written by writeStanding.ts. */\nexport const ${shot.name}: [number, number][] = [\n${outline.map(([x, y]) => `  [${x}, ${y}],`).join('\n')}\n];\n`;
  console.error(`${shot.code}: ${outline.length} points`);
}
await rm(folder, { recursive: true });
await writeFile(join(process.cwd(), 'packages', 'demo', 'src', 'standing.ts'), text);
