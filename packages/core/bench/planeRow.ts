import { drawSlanted, WALL, wallCorners, type SlantedOptions } from '../test/slantedPlane';
import { after, back, seenAt, toCorners, type Homography, type Plane } from '../src/image';
import { PlaneTracker, type Quad } from '../src/motion';
import type { Work } from './measure';
import { openCv, type CvMat, type OpenCv } from './peers';
import { HEIGHT, WIDTH } from './scene';

/** A printed wall that turns before the camera, 520 by 360 pixels of the picture, with grain and flicker. */
const scene: SlantedOptions = {
    ...{ width: WIDTH, height: HEIGHT, grain: 5 / 255, flicker: 0.06 },
    at: (f) => ({ degrees: -10 + f, x: 600 + 2 * f, y: 350 + 4 * Math.sin(f / 3), scale: 2 }),
  },
  FRAMES = 16,
  FEATURES = 110;

const corners = wallCorners(scene, 0),
  truthAt = (frame: number): Homography =>
    after(toCorners(WALL.width, WALL.height, wallCorners(scene, frame))!, back(toCorners(WALL.width, WALL.height, corners)!)!);
/** Root of the mean square of how far the corners are off, pixels. */
const offBy = (map: (corner: readonly [number, number]) => readonly [number, number], frame: number): number =>
  Math.sqrt(
    corners.reduce((sum, c) => {
      const [x, y] = map(c),
        { at } = seenAt(truthAt(frame), c);
      return sum + (x - at[0]) ** 2 + (y - at[1]) ** 2;
    }, 0) / 4,
  );

/** Features, their flow from one frame to the next, and the homography through them: the usual way by the library. */
function stepOf(cv: OpenCv, before: CvMat, now: CvMat, mask: CvMat, window: object): Homography {
  const [from, to, status, error] = [new cv.Mat(), new cv.Mat(), new cv.Mat(), new cv.Mat()] as const;
  cv.goodFeaturesToTrack(before, from, FEATURES, 0.01, 8, mask);
  cv.calcOpticalFlowPyrLK(before, now, from, to, status, error, window, 3);
  const found = cv.findHomography(from, to, cv.RANSAC, 1.5),
    map = Array.from(found.data64F) as unknown as Homography;
  for (const m of [from, to, status, error, found]) m.delete();
  return map;
}

/** One step of a plane that is followed, against features, flow and homography by the library; the errors of both go to the error stream. */
export async function trackPlane(): Promise<Work> {
  const { cv } = await openCv(),
    frames: Plane[] = Array.from({ length: FRAMES }, (_, f) => drawSlanted(f, scene)),
    mats = frames.map((plane) =>
      cv.matFromArray(
        HEIGHT,
        WIDTH,
        cv.CV_8UC1,
        Array.from(plane.data, (v) => Math.round(v * 255)),
      ),
    ),
    maskAt = (frame: number) => {
      const m = back(toCorners(1, 1, wallCorners(scene, frame))!)!;
      return cv.matFromArray(
        HEIGHT,
        WIDTH,
        cv.CV_8UC1,
        Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
          const { at } = seenAt(m, [(i % WIDTH) + 0.5, Math.floor(i / WIDTH) + 0.5]);
          return at[0] > 0 && at[1] > 0 && at[0] < 1 && at[1] < 1 ? 255 : 0;
        }),
      );
    },
    masks = frames.map((_, f) => maskAt(f)),
    window = new cv.Size(21, 21);
  const begun = () => new PlaneTracker(frames[0]!, 0, [scene.at(0).x, scene.at(0).y], { corners: corners as Quad });
  let tracker = begun(),
    whole: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1],
    [ours, theirs] = [0, 0];
  for (let f = 1; f < FRAMES; f++) {
    const sample = tracker.step(frames[f]!, f);
    // Its places count from the middles of pixels.
    whole = after(
      after(
        [1, 0, 0.5, 0, 1, 0.5, 0, 0, 1],
        after(stepOf(cv, mats[f - 1]!, mats[f]!, masks[f - 1]!, window), [1, 0, -0.5, 0, 1, -0.5, 0, 0, 1]),
      ),
      whole,
    );
    ours = Math.max(
      ours,
      offBy((c) => sample.corners?.[corners.indexOf(c as never)] ?? [NaN, NaN], f),
    );
    theirs = Math.max(
      theirs,
      offBy((c) => seenAt(whole, c).at, f),
    );
  }
  console.error(
    `track-plane: corners off by ${ours.toFixed(2)} px at the most after ${FRAMES - 1} frames; opencv.js ${theirs.toFixed(2)} px`,
  );
  tracker = begun();
  let [f, g] = [0, 0];
  return {
    work: 'track-plane',
    ...{ width: WIDTH, height: HEIGHT },
    peer: 'opencv.js features, flow, homography',
    run() {
      // Forth and back, so that every step is one between neighbours.
      f = (f + 1) % (2 * FRAMES - 2);
      tracker.step(frames[f < FRAMES ? f : 2 * FRAMES - 2 - f]!, f);
    },
    runPeer() {
      g = (g + 1) % (FRAMES - 1);
      stepOf(cv, mats[g]!, mats[g + 1]!, masks[g]!, window);
    },
    close: () => [...mats, ...masks].forEach((m) => m.delete()),
  };
}
