import { drawFacade, FACADE } from '../test/facade';
import { drawScene, type SceneMotion } from '../test/texturedScene';
import type { Plane } from '../src/image';
import { PointTracker } from '../src/motion';
import type { CvMat, OpenCv } from './peers';

interface Case {
  name: string;
  frames: number;
  pattern: number;
  draw(frame: number): Plane;
  truth(frame: number): readonly [number, number];
}
const turning: SceneMotion = {
    at: (f) => ({ x: 120.3 + 3.37 * f + 6 * Math.sin(f * 0.3), y: 130.7 + 9 * Math.sin(f * 0.21), degrees: 0.5 * f, scale: 1.005 ** f }),
  },
  front = (post?: (frame: number) => number) => ({
    ...{ at: (f: number) => ({ x: 0.9 * f, y: 4 * Math.sin(f / 6) }), grain: 6 / 255, flicker: 0.08 },
    ...(post ? { post } : {}),
  }),
  window: readonly [number, number] = [FACADE.cellWide * 3.5, FACADE.cellHigh * 2.5],
  onFront = (f: number): readonly [number, number] => {
    const { at } = front();
    return [window[0] + at(f).x - at(0).x, window[1] + at(f).y - at(0).y];
  };
/** The cases of the tests: what turns and grows under grain and flicker, a house front with hard edges, and that with a post that crosses. */
const cases: readonly Case[] = [
  {
    ...{ name: 'turns and grows, grain of 6, 12 % flicker', frames: 50, pattern: 41 },
    draw: (f) => drawScene(turning, f, { width: 400, height: 260, grain: 0.025, flicker: 0.12 }),
    truth: (f) => [turning.at(f).x, turning.at(f).y],
  },
  { name: 'house front, grain of 6, 8 % flicker', frames: 40, pattern: 31, draw: (f) => drawFacade(f, front()), truth: onFront },
  {
    ...{ name: 'the same, and a post crosses', frames: 40, pattern: 31 },
    draw: (f) =>
      drawFacade(
        f,
        front((frame) => 300 - 9 * frame),
      ),
    truth: onFront,
  },
];

const told = (errors: readonly number[]) =>
  errors.length
    ? `${Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length).toFixed(2)} RMS, ${Math.max(...errors).toFixed(2)} at the most`
    : 'never';

/** How far points are off that are followed here, on frames that are called good, and by the library's flow from frame to frame: to the error stream. */
export function comparePoints(cv: OpenCv): void {
  for (const { name, frames, pattern, draw, truth } of cases) {
    const planes = Array.from({ length: frames }, (_, f) => draw(f)),
      mats: CvMat[] = planes.map(({ width, height, data }) =>
        cv.matFromArray(
          height,
          width,
          cv.CV_8UC1,
          Array.from(data, (v) => Math.round(v * 255)),
        ),
      ),
      [x, y] = truth(0),
      tracker = new PointTracker(planes[0]!, 0, [x, y], { pattern, search: 2 * pattern }),
      side = new cv.Size(pattern, pattern),
      own: number[] = [],
      theirs: number[] = [];
    let at: [number, number] = [x - 0.5, y - 0.5];
    for (let f = 1; f < frames; f++) {
      const s = tracker.step(planes[f]!, f),
        [tx, ty] = truth(f);
      if (s.state === 'good') own.push(Math.hypot(s.x! - tx, s.y! - ty));
      const from = cv.matFromArray(1, 1, cv.CV_32FC2, at),
        [to, status, error] = [new cv.Mat(), new cv.Mat(), new cv.Mat()] as const;
      cv.calcOpticalFlowPyrLK(mats[f - 1]!, mats[f]!, from, to, status, error, side, 3);
      at = [to.data32F[0]!, to.data32F[1]!];
      theirs.push(Math.hypot(at[0] + 0.5 - tx, at[1] + 0.5 - ty));
      for (const m of [from, to, status, error]) m.delete();
    }
    for (const m of mats) m.delete();
    console.error(`point, ${name}: ${own.length} of ${frames - 1} good, ${told(own)} px; opencv.js ${told(theirs)} px`);
  }
}
