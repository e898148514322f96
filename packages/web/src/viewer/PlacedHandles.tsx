import { Fragment } from 'react';
import type { Point } from '@wraithos/core/motion';
import { seenAt, toCorners } from '@wraithos/core/image';
import type { Outline, Sizes } from '@wraithos/core/placing';
import { together, type Edit } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { colours, Knob, Outlined, Ring } from './marks';

/** Pixels of the screen from the upper edge to the knob that turns, and from the pivot to the one that turns in space. */
const ABOVE = 22,
  BESIDE = 26;
/** Degrees for each pixel of the screen that the knob in space is dragged. */
const TURNS = 0.5;
const degrees = (y: number, x: number): number => (Math.atan2(y, x) * 180) / Math.PI;
/** Degrees brought to -180..180. */
const wrapped = (d: number): number => ((((d + 180) % 360) + 360) % 360) - 180;

/** Points of the circle that fills a square, seen as its corners are. */
function circleIn(corners: Outline['corners']): Point[] {
  const map = toCorners(2, 2, corners);
  return map
    ? Array.from({ length: 64 }, (_, i) => {
        const a = (i / 64) * 2 * Math.PI;
        return seenAt(map, [1 + Math.cos(a), 1 + Math.sin(a)]).at;
      })
    : [...corners];
}

/** Sizes of a clip and of the shot that it is placed in. */
export const sizesIn = (shot: { width: number; height: number }, clip: { width: number; height: number }): Sizes => ({
  width: clip.width,
  height: clip.height,
  pictureWidth: shot.width,
  pictureHeight: shot.height,
});

/**
 * The outline of a placed picture with its handles: the pivot moves it, corners size it, the knob above its upper edge turns it in the picture, the one
 * beside the pivot turns it in space, where its normal shows. Corners that are placed one by one have handles of their own.
 */
export function PlacedHandles({
  outline,
  onScreen,
  onBody,
  value,
  put,
  putPlace,
  round = false,
}: {
  outline: Outline;
  onScreen(p: Point): [number, number];
  onBody(sx: number, sy: number): Point;
  value(name: 'size' | 'turn' | 'swing' | 'tilt'): number;
  put(name: 'size' | 'turn' | 'swing' | 'tilt', to: number): Edit;
  putPlace(p: Point): Edit;
  /** It is a circle that just fills its outline. */
  round?: boolean;
}) {
  const { edit, preview } = useParts('edit', 'preview'),
    { corners, pivot, normal } = outline,
    screen = corners.map(onScreen),
    [px, py] = onScreen(pivot),
    both = (change: (x: number, y: number) => Edit) => ({
      onMove: (x: number, y: number) => preview(change(x, y)),
      onEnd: (x: number, y: number) => edit(change(x, y)),
    });
  const seen = round ? circleIn(corners).map(onScreen) : screen,
    quad = <Outlined points={seen.flat()} closed dash={[6, 4]} />;
  if (!normal) return quad;
  const sized = (corner: Point) => (x: number, y: number) => {
    const at = onBody(x, y),
      was = Math.hypot(corner[0] - pivot[0], corner[1] - pivot[1]),
      now = Math.hypot(at[0] - pivot[0], at[1] - pivot[1]);
    return put('size', Math.min(2000, Math.max(1, Math.round((value('size') * now * 10) / Math.max(1, was)) / 10)));
  };
  // Above the middle of the upper edge, away from the pivot.
  const [top, tall] = [screen[0]!, screen[1]!],
    middle = [(top[0] + tall[0]) / 2, (top[1] + tall[1]) / 2] as const,
    out = Math.hypot(middle[0] - px, middle[1] - py) || 1,
    knob = [middle[0] + ((middle[0] - px) / out) * ABOVE, middle[1] + ((middle[1] - py) / out) * ABOVE] as const,
    inBody = (x: number, y: number): number => {
      const at = onBody(x, y);
      return degrees(at[1] - pivot[1], at[0] - pivot[0]);
    },
    turned = (x: number, y: number) => put('turn', Math.round(wrapped(value('turn') + wrapped(inBody(x, y) - inBody(...knob))) * 10) / 10),
    held = (d: number): number => Math.round(Math.min(89, Math.max(-89, d))),
    inSpace = (x: number, y: number): Edit => {
      const swing = put('swing', held(value('swing') + (x - px - BESIDE) * TURNS)),
        tilt = put('tilt', held(value('tilt') - (y - py) * TURNS));
      return together('Turn in space', swing, tilt);
    };
  return (
    <>
      {quad}
      <Outlined points={[...middle, ...knob]} width={1} />
      <Outlined points={[px, py, ...onScreen(normal)]} colour={colours.mount} width={1.6} />
      {corners.map((corner, i) => (
        <Fragment key={i}>
          <Knob
            x={screen[i]![0]}
            y={screen[i]![1]}
            square
            size={4.5}
            colour={colours.light}
            name={`handle-corner-${i}`}
            cursor="nwse-resize"
            {...both(sized(corner))}
          />
        </Fragment>
      ))}
      <Knob x={knob[0]} y={knob[1]} size={4.5} colour={colours.light} name="handle-turn" cursor="grab" {...both(turned)} />
      <Ring x={px} y={py} radius={BESIDE} dash={[2, 5]} />
      <Knob x={px + BESIDE} y={py} size={4} colour={colours.light} name="handle-space" {...both(inSpace)} />
      <Knob x={px} y={py} name="handle-place" {...both((x, y) => putPlace(onBody(x, y)))} />
    </>
  );
}
