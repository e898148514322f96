import { writeFileSync } from 'node:fs';
import { scaleLinear, scaleLog } from 'd3-scale';
import { encodeCodes } from '../src/image';
import { FrameRenderer } from '../src/render';
import { bandThreads } from '../../runtime/src/bandThreads';
import { usualShot, type Usual } from './scene';

/*
 * How the time of the usual shot grows with its size, its particles and its rows, and what memory a long render needs, on all threads of the machine:
 * npm run bench:growth. Prints the figures and draws docs/performance-growth.svg.
 */
const MEMORY = 256 * 2 ** 20;

/** Median milliseconds of a few frames with everything in them. */
async function milliseconds(usual: Usual): Promise<number> {
  const helpers = bandThreads(1),
    { shot, sources } = usualShot(usual),
    renderer = new FrameRenderer(sources, shot, MEMORY, undefined, false, helpers),
    times: number[] = [];
  for (let frame = 1052; frame < 1060; frame++) {
    const begun = performance.now();
    await renderer.renderFrame({ shot, frame }, (picture, _, arena) => encodeCodes(picture, { bits: 8, channels: 3, frame }, arena));
    if (frame > 1053) times.push(performance.now() - begun);
  }
  await helpers.close();
  return times.sort((a, b) => a - b)[times.length >> 1]!;
}

interface Series {
  title: string;
  unit: string;
  points: { at: number; ms: number }[];
}
async function series(title: string, unit: string, at: number[], usual: (at: number) => Usual): Promise<Series> {
  const points = [];
  for (const value of at) {
    const ms = await milliseconds(usual(value));
    points.push({ at: value, ms });
    console.log(`${title.padEnd(12)} ${String(value).padStart(8)} ${unit.padEnd(12)} ${ms.toFixed(1).padStart(9)} ms`);
  }
  return { title, unit, points };
}

/** One small chart for each series: time against what grows, both by powers, and the line of equal growth. */
function chart(all: Series[]): string {
  const width = 300,
    height = 220,
    parts = all.map(({ title, unit, points }, i) => {
      const first = points[0]!,
        last = points[points.length - 1]!,
        x = scaleLog([first.at, last.at], [46, width - 16]),
        most = Math.max(...points.map((p) => p.ms)),
        y = scaleLinear([0, most * 1.1], [height - 40, 34]),
        line = (p: { at: number; ms: number }[]) => p.map((q) => `${x(q.at).toFixed(1)},${y(q.ms).toFixed(1)}`).join(' '),
        even = points.map((p) => ({ at: p.at, ms: (last.ms * p.at) / last.at }));
      return [
        `<g transform="translate(${i * width},0)">`,
        `<text x="46" y="18" class="title">${title}</text>`,
        `<polyline points="${line(even)}" class="even"/>`,
        `<polyline points="${line(points)}" class="line"/>`,
        ...points.map((p) => `<circle cx="${x(p.at).toFixed(1)}" cy="${y(p.ms).toFixed(1)}" r="3"/>`),
        ...points.map(
          (p) => `<text x="${x(p.at).toFixed(1)}" y="${height - 22}" class="tick">${p.at >= 1000 ? `${p.at / 1000}k` : p.at}</text>`,
        ),
        ...[0, most].map((v) => `<text x="40" y="${(y(v) + 4).toFixed(1)}" class="side">${Math.round(v)}</text>`),
        `<text x="${(width + 30) / 2}" y="${height - 6}" class="tick">${unit}</text>`,
        '</g>',
      ].join('');
    });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width * all.length} ${height}" font-family="sans-serif" font-size="11">`,
    '<style>.title{font-weight:600;font-size:12px}.line{fill:none;stroke:#2d8a74;stroke-width:2}.even{fill:none;stroke:#999;stroke-dasharray:4 3}circle{fill:#2d8a74}.tick{text-anchor:middle;fill:#555}.side{text-anchor:end;fill:#555}</style>',
    `<rect width="${width * all.length}" height="${height}" fill="#fff"/>`,
    ...parts,
    '</svg>\n',
  ].join('\n');
}

/** The most memory of a render of many frames of a small size, and what it was after a tenth of them. */
async function memory(frames: number): Promise<void> {
  const { shot, sources } = usualShot({ size: 0.5 }),
    renderer = new FrameRenderer(sources, shot, MEMORY, undefined, false),
    codes = new Uint8Array(shot.width * shot.height * 3);
  let early = 0,
    most = 0;
  for (let i = 0; i < frames; i++) {
    const frame = 1001 + (i % 96);
    await renderer.renderFrame({ shot, frame }, (picture, _, arena) => encodeCodes(picture, { bits: 8, channels: 3, frame }, arena, codes));
    most = Math.max(most, process.memoryUsage().rss);
    if (i === frames / 10) early = most;
  }
  const { arena, store } = renderer.evaluator,
    mib = (bytes: number) => Math.round(bytes / 2 ** 20);
  console.log(
    `memory over ${frames} frames of ${shot.width}x${shot.height}: most ${mib(most)} MiB (${mib(early)} after a tenth); arena ${mib(arena.capacity)}, in use at most ${mib(arena.peak)}, remembered ${mib(store.bytes)} of ${mib(MEMORY)}`,
  );
}

const all = [
  await series('Size', 'lines', [480, 720, 1080, 1440, 2160], (lines) => ({ size: lines / 720 })),
  await series('Particles', 'alive', [10_000, 30_000, 60_000, 120_000, 240_000, 400_000], (count) => ({ density: (32 * count) / 60_000 })),
  await series('Rows', 'rows', [3, 4, 6, 8, 10, 12], (rows) => ({ finishing: rows - 2 })),
];
writeFileSync('docs/performance-growth.svg', chart(all));
await memory(1000);
process.exit(0);
