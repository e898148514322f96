import { AffineFrame, type Point } from '../motion';
import { defaultsOf, valuesAt } from '../params';
import { after, back, cornersOf, seenAt, toCorners } from '../image/homography';
import { boxAround, carriedMatrix, carrierOf, momentsOf, outlineOf, placedMatrix, placeParams, scaleOf, type PlaceValues } from './index';

const sizes = { width: 400, height: 200, pictureWidth: 1280, pictureHeight: 720 };
const placed = (set: Record<string, number | string | [number, number]> = {}) =>
  valuesAt(placeParams, { ...defaultsOf(placeParams), ...set }, {}, 0, 1) as PlaceValues;
const near = (a: Point, b: Point, digits = 6) => {
  expect(a[0]).toBeCloseTo(b[0], digits);
  expect(a[1]).toBeCloseTo(b[1], digits);
};

describe('maps that keep lines straight', () => {
  const m = [1.2, 0.1, 30, -0.2, 0.9, 12, 0.0006, -0.0003, 1] as const;
  test('there and back is nowhere; two in turn are one', () => {
    near(seenAt(after(back(m)!, m), [77, 31]).at, [77, 31]);
    const first = seenAt(m, [77, 31]).at;
    near(seenAt(after([2, 0, 5, 0, 2, -3, 0, 0, 1], m), [77, 31]).at, [2 * first[0] + 5, 2 * first[1] - 3]);
    expect(back([1, 2, 0, 2, 4, 0, 0, 0, 1])).toBeNull();
  });
  test('a rectangle goes to four corners, and its diagonals cross where theirs do', () => {
    const corners: [Point, Point, Point, Point] = [
      [10, 20],
      [210, 40],
      [180, 150],
      [30, 120],
    ];
    const h = toCorners(400, 200, corners)!;
    cornersOf(h, 400, 200)!.forEach((c, i) => near(c, corners[i]!));
    // Closed form: the crossing of the two diagonals.
    const [a, b, c, d] = corners,
      [r, s] = [
        [c[0] - a[0], c[1] - a[1]],
        [d[0] - b[0], d[1] - b[1]],
      ] as [number[], number[]],
      t = ((b[0] - a[0]) * s[1]! - (b[1] - a[1]) * s[0]!) / (r[0]! * s[1]! - r[1]! * s[0]!);
    near(seenAt(h, [200, 100]).at, [a[0] + t * r[0]!, a[1] + t * r[1]!]);
    expect(
      toCorners(10, 10, [
        [0, 0],
        [1, 1],
        [2, 2],
        [0, 5],
      ]),
    ).toBeNull();
  });
});

describe('placed', () => {
  test('own size: the middle at the mount, pixel for pixel', () => {
    const m = placedMatrix(placed(), sizes)!;
    near(seenAt(m, [200, 100]).at, [0, 0]);
    near(seenAt(m, [0, 0]).at, [-200, -100]);
    expect(scaleOf(m, [200, 100])).toBeCloseTo(1, 9);
  });
  test('sized and turned about its pivot, which stands at its place', () => {
    const m = placedMatrix(placed({ pivot: [50, -20], place: [7, 9], size: 200, turn: 90 }), sizes)!;
    near(seenAt(m, [250, 80]).at, [7, 9]);
    // A point 10 px to the right of the pivot lies 20 px below it.
    near(seenAt(m, [260, 80]).at, [7, 29]);
    expect(scaleOf(m, [20, 30])).toBeCloseTo(2, 6);
  });
  test('fits, fills and stretches', () => {
    const wide = (fit: string) => {
      const c = cornersOf(placedMatrix(placed({ fit }), sizes)!, 400, 200)!;
      return [c[2][0] - c[0][0], c[2][1] - c[0][1]].map((n) => Math.round(n * 1000) / 1000);
    };
    expect(wide('fits the picture')).toEqual([1280, 640]);
    expect(wide('fills the picture')).toEqual([1440, 720]);
    expect(wide('stretched to the picture')).toEqual([1280, 720]);
  });
  test('mirrored about its middle, with the pivot on what it shows', () => {
    near(seenAt(placedMatrix(placed({ mirror: 'left to right' }), sizes)!, [0, 0]).at, [200, -100]);
    near(seenAt(placedMatrix(placed({ mirror: 'both', pivot: [-200, -100], place: [3, 4] }), sizes)!, [0, 0]).at, [3, 4]);
  });
  test('turned in space: the closed form of a pinhole 1.5 widths away', () => {
    const swing = 40,
      tilt = -25,
      far = 1.5 * 1280,
      rad = Math.PI / 180,
      m = placedMatrix(placed({ swing, tilt }), sizes)!;
    for (const [u, v] of [
      [-200, -100],
      [200, 100],
      [40, -70],
    ] as Point[]) {
      // Tilted about the level: the upper edge goes away; then swung about the upright: the right edge goes away.
      const y1 = v * Math.cos(tilt * rad),
        z1 = -v * Math.sin(tilt * rad),
        x2 = u * Math.cos(swing * rad) - z1 * Math.sin(swing * rad),
        z2 = u * Math.sin(swing * rad) + z1 * Math.cos(swing * rad);
      near(seenAt(m, [200 + u, 100 + v]).at, [(x2 * far) / (far + z2), (y1 * far) / (far + z2)], 6);
    }
    // The normal of a picture that is swung to the right points to the right and to who looks.
    const { normal, pivot } = outlineOf(placed({ swing }), sizes)!;
    expect(normal![0] - pivot[0]).toBeGreaterThan(40);
    expect(outlineOf(placed({ swing: 90 }), sizes)).toBeNull();
  });
  test('carried by a frame that is turned and grown', () => {
    const mount = AffineFrame.turned(500, 300, 90, 2),
      v = placed({ place: [10, 0] }),
      m = carriedMatrix(placedMatrix(v, sizes)!, mount, v.place);
    near(seenAt(m, [200, 100]).at, [500, 320]);
    near(seenAt(m, [201, 100]).at, [500, 322]);
    const only = carrierOf('goes with its place only', mount, mount);
    near(only.toPicture([5, 6]), [505, 306]);
    expect(carrierOf('stays where it began', mount, only)).toBe(only);
  });
  test('its box holds its corners', () => {
    expect(
      boxAround(
        [
          [3, 9],
          [-4, 2],
        ],
        1,
      ),
    ).toEqual([-5, 1, 4, 10]);
  });
});

describe('retimed', () => {
  const clip = { frames: 48, rate: { num: 60, den: 1 } },
    shot = { num: 24, den: 1 },
    at = (frame: number, values = {}, curves = {}) => momentsOf(values, curves, frame, clip, shot).map((m) => m.frame);
  test('a clip of another rate lasts as long as it lasts, or shows each frame', () => {
    expect([0, 2, 4, 18].map((f) => at(f)[0])).toEqual([0, 5, 10, 45]);
    expect(at(2, { rate: 'frame for frame' })).toEqual([2]);
  });
  test('speed by a curve: slowed, frozen, let go', () => {
    const speed = {
      points: [
        { frame: 0, value: 100, ease: 'hold' as const },
        { frame: 4, value: 0, ease: 'hold' as const },
        { frame: 10, value: 50, ease: 'hold' as const },
      ],
    };
    expect([0, 3, 4, 7, 10, 12, 14].map((f) => at(f, { rate: 'frame for frame' }, { speed })[0])).toEqual([0, 3, 4, 4, 4, 5, 6]);
  });
  test('trims, and never less than one frame; a still is a still', () => {
    expect([0, 1, 3, 4].map((f) => at(f, { rate: 'frame for frame', trimStart: 20, trimEnd: 24 })[0])).toEqual([20, 21, 23, undefined]);
    expect(at(0, { trimStart: 900, trimEnd: 900 })).toEqual([47]);
    expect(momentsOf({ playback: 'once' }, {}, 500, { frames: 1, rate: shot }, shot)).toEqual([{ frame: 0, share: 1 }]);
  });
});
