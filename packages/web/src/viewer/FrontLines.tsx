import { Group } from 'react-konva';
import type { Frame, Point } from '@wraithos/core/motion';
import { rowValues, type DrawnRow } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { colours, Label, Outlined } from './marks';
import { toScreen, type Space } from './space';

/** Frames beside this one at which the front is drawn as well. */
export const FRONT_STEPS = [-16, -8, 0, 8, 16];
/** Half of the length of a straight front (share of the picture's height), and the half angle of a round one (degrees). */
const REACH = 0.32,
  SPREAD = 55;
/** Labels nearer to each other than this (pixels of the screen) would cover each other: the one of the nearer frame stays. */
const LABEL = { width: 38, height: 16 };

interface Line {
  step: number;
  at: number;
  points: number[];
  label: [number, number];
}

/** Where the front of an effect stands now (solid) and at frames around (dotted), each with its frame: contour lines of its arrival. */
export function FrontLines({ space, row, body }: { space: Space; row: DrawnRow; body: Frame }) {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    effect = row.effect;
  if (!effect?.front) return null;
  const onScreen = (p: Point): [number, number] => toScreen(space, ...body.toPicture(p)),
    lines = FRONT_STEPS.flatMap((step): Line[] => {
      const at = frame + step,
        front = at < row.first || at > row.last ? null : effect.front!(rowValues(row, at, 1));
      if (!front) return [];
      const [u, v] = front.about,
        turned = (degrees: number, long: number): Point => [
          u + Math.cos((degrees * Math.PI) / 180) * long,
          v + Math.sin((degrees * Math.PI) / 180) * long,
        ];
      if (front.shape === 'line') {
        const half = shot.height * REACH,
          end = onScreen(turned(front.direction + 90, half));
        return [{ step, at, points: [...onScreen(turned(front.direction - 90, half)), ...end], label: [end[0] + 4, end[1] - 6] }];
      }
      // Towards the body, below and to the right of where it began, and drawn as an arc: whole circles would hide the picture.
      const [, oy] = body.toPicture([0, 0]),
        towards = (Math.atan2(-v + (shot.height - oy) * 0.2, -u) * 180) / Math.PI,
        points = Array.from({ length: 33 }, (_, i) => onScreen(turned(towards - SPREAD + (i / 32) * 2 * SPREAD, front.radius))),
        [ex, ey] = points.at(-1)!;
      return [{ step, at, points: points.flat(), label: [ex - 14, ey + 5] }];
    });
  return (
    <Group listening={false}>
      {lines.map((line) => (
        <Outlined key={line.step} points={line.points} colour={colours.mount} dash={line.step === 0 ? undefined : [2, 4]} />
      ))}
      <FrontLabels lines={lines} />
    </Group>
  );
}

/** The frames of lines, each where its line ends; those that would cover another are left out, and those of nearer frames stay. */
export function FrontLabels({ lines }: { lines: readonly Pick<Line, 'step' | 'at' | 'label'>[] }) {
  const labelled: Pick<Line, 'at' | 'label'>[] = [];
  for (const line of [...lines].sort((a, b) => Math.abs(a.step) - Math.abs(b.step)))
    if (labelled.every(({ label: [x, y] }) => Math.abs(x - line.label[0]) > LABEL.width || Math.abs(y - line.label[1]) > LABEL.height))
      labelled.push(line);
  return labelled.map(({ label: [x, y], at }, i) => <Label key={i} x={x} y={y} text={String(at)} />);
}
