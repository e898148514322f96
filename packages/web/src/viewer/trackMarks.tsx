import { Group, Line } from 'react-konva';
import { seenAt } from '@wraithos/core/image';
import { horizonOf, quadToQuad, type Frame, type Point, type Quad, type TrackSample } from '@wraithos/core/motion';
import type { Clip, Track } from '@wraithos/core/shot';
import type { Mounts } from '@wraithos/core/render';
import { colours, Label, Outlined, Ring } from './marks';

/** Length of the axes that show how a track is turned, screen pixels. */
const AXIS = 26;
/** Which way is right and down for what hangs on a track: where it neither turns nor lies in perspective they would say nothing. */
export function Axes({ frame, onScreen }: { frame: Frame; onScreen(p: Point): [number, number] }) {
  const [xu, yu, xv, yv] = frame.slopesAt([0, 0]);
  if (yu === 0 && xv === 0 && xu === yv) return null;
  const at = frame.toPicture([0, 0]),
    [x, y] = onScreen(at),
    axis = (u: number, v: number, colour: string, words: string) => {
      const [px, py] = onScreen([at[0] + u, at[1] + v]),
        far = Math.hypot(px - x, py - y) || 1,
        [ex, ey] = [x + ((px - x) / far) * AXIS, y + ((py - y) / far) * AXIS];
      return (
        <Group key={words} listening={false}>
          <Outlined points={[x, y, ex, ey]} colour={colour} />
          <Label x={ex + 2} y={ey - 6} text={words} colour={colour} />
        </Group>
      );
    };
  return (
    <>
      {axis(xu, yu, '#f0c987', 'x')}
      {axis(xv, yv, '#9fc0e0', 'y')}
    </>
  );
}

/** Frames to either side of the playhead over which the way of a track is drawn. */
const WAY = 24;
/** The way of a track around the playhead, thinner and fainter with time; keys of hand keys are dots on it. */
export function Way({
  track,
  known,
  mounts,
  at,
  clip,
  onScreen,
}: {
  track: Track;
  known: readonly TrackSample[];
  mounts: Mounts;
  at: number;
  clip: Clip;
  onScreen(p: Point): [number, number];
}) {
  if (!known.length && !('tracks' in track)) return null;
  const from = Math.max(0, at - WAY),
    to = Math.min(clip.frames - 1, at + WAY),
    places: { frame: number; at: [number, number] }[] = [];
  for (let f = from; f <= to; f++) {
    const there = mounts.ofTrack(track.id, f);
    if (there && !there.lost) places.push({ frame: f, at: onScreen(there.toPicture([0, 0])) });
  }
  return (
    <>
      {places.slice(1).map(({ frame, at: [x, y] }, i) => {
        const near = 1 - Math.abs(frame - 0.5 - at) / (WAY + 1);
        return (
          <Line
            key={frame}
            listening={false}
            points={[...places[i]!.at, x, y]}
            stroke={colours.mount}
            strokeWidth={0.6 + 1.4 * near}
            opacity={0.15 + 0.85 * near}
          />
        );
      })}
      {places
        .filter(({ frame }) => track.corrections[String(frame)])
        .map(({ frame, at: [x, y] }) => (
          <Ring key={`key ${frame}`} x={x} y={y} radius={3} colour={colours.light} />
        ))}
    </>
  );
}

/** Cells to a side of the grid that shows how a plane lies, and rectangles beyond it to which the grid of a floor goes on. */
const CELLS = 4,
  BEYOND = 2;
/** Lines that lie in a plane, as straight as it is; those of a floor go on, to its horizon. */
export function Grid({
  corners,
  colour,
  onScreen,
  goesOn,
  width,
}: {
  corners: readonly Point[];
  colour: string;
  onScreen(p: Point): [number, number];
  goesOn: boolean | undefined;
  /** Width of the clip, pixels. */
  width: number;
}) {
  const map = quadToQuad(
    [
      [0, 0],
      [CELLS, 0],
      [CELLS, CELLS],
      [0, CELLS],
    ],
    corners as unknown as Quad,
  );
  if (!map) return null;
  const [from, to] = goesOn ? [-BEYOND * CELLS, (1 + BEYOND) * CELLS] : [0, CELLS],
    horizon = goesOn ? horizonOf(map, width) : null,
    /** A line in short pieces: what of it lies behind the camera is left out. */
    line = (at: (t: number) => Point): number[][] =>
      Array.from({ length: to - from }, (_, k) => [at(from + k), at(from + k + 1)] as const).flatMap(([a, b]) => {
        const [p, q] = [seenAt(map, a), seenAt(map, b)];
        return p.depth > 0.05 && q.depth > 0.05 ? [[...onScreen(p.at), ...onScreen(q.at)]] : [];
      }),
    steps = Array.from({ length: to - from + 1 }, (_, k) => from + k);
  return (
    <Group listening={false} opacity={0.5}>
      {steps.flatMap((k) =>
        [...line((t) => [k, t]), ...line((t) => [t, k])].map((points, i) => (
          <Line key={`${k} ${i}`} points={points} stroke={colour} strokeWidth={k >= 0 && k <= CELLS ? 1 : 0.6} />
        )),
      )}
      {horizon && (
        <Line
          points={[...onScreen([0, horizon[0]]), ...onScreen([width, horizon[1]])]}
          stroke={colours.light}
          strokeWidth={1}
          dash={[8, 6]}
        />
      )}
    </Group>
  );
}
