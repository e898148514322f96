import { Fragment } from 'react';
import { Arc, Group } from 'react-konva';
import { effectOf } from '@wraithos/core/effects';
import { rowValues } from '@wraithos/core/render';
import { rowRange, type Row } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { colours, Label, Outlined } from './marks';
import { toScreen, type Space } from './space';

/** Frames beside this one at which the front is drawn as well. */
const STEPS = [-16, -8, 0, 8, 16];
/** Half of the length of a straight front, and the half angle of a round one. */
const REACH = 0.32,
  SPREAD = 55;

/** Where the front of an effect stands now (solid) and at frames around (dotted), each with its frame: contour lines of its arrival. */
export function FrontLines({ space, row, origin }: { space: Space; row: Row; origin: [number, number] }) {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    effect = effectOf(row.effect),
    [first, last] = rowRange(shot, row);
  if (!effect?.front) return null;
  return (
    <Group listening={false}>
      {STEPS.map((step) => {
        const at = frame + step,
          front = at < first || at > last ? null : effect.front!(rowValues(shot, row, at, 1) as never);
        if (!front) return null;
        const [x, y] = toScreen(space, origin[0] + front.about[0], origin[1] + front.about[1]),
          dash = step === 0 ? undefined : [2, 4];
        if (front.shape === 'line') {
          const a = ((front.direction + 90) * Math.PI) / 180,
            half = shot.height * REACH * space.zoom,
            dx = Math.cos(a) * half,
            dy = Math.sin(a) * half;
          return (
            <Fragment key={step}>
              <Outlined points={[x - dx, y - dy, x + dx, y + dy]} colour={colours.mount} dash={dash} />
              <Label x={x + dx + 4} y={y + dy - 6} text={String(at)} />
            </Fragment>
          );
        }
        const radius = front.radius * space.zoom,
          // Towards the body, below and to the right of where it began, and drawn as an arc: whole circles would hide the picture.
          toBody = (Math.atan2(-front.about[1] + (shot.height - origin[1]) * 0.2, -front.about[0]) * 180) / Math.PI,
          end = ((toBody + SPREAD) * Math.PI) / 180,
          arc = { x, y, innerRadius: radius, outerRadius: radius, angle: 2 * SPREAD, rotation: toBody - SPREAD };
        return (
          <Fragment key={step}>
            <Arc {...arc} stroke={colours.dark} strokeWidth={3.4} opacity={0.7} />
            <Arc {...arc} stroke={colours.mount} strokeWidth={step === 0 ? 1.8 : 1.3} dash={dash} />
            <Label x={x + Math.cos(end) * radius - 14} y={y + Math.sin(end) * radius + 5} text={String(at)} />
          </Fragment>
        );
      })}
    </Group>
  );
}
