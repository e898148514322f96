import { Circle, Line } from 'react-konva';

/** The way that a brush has painted, as wide as it is. Places and radius are pixels of the screen. */
export const BrushWay = ({
  points,
  radius,
  colour,
}: {
  points: readonly (readonly [number, number])[];
  radius: number;
  colour: string;
}) => (
  <Line points={points.flat()} stroke={colour} strokeWidth={2 * radius} opacity={0.4} lineCap="round" lineJoin="round" listening={false} />
);
/** The brush at a place of the screen; dashed where it only shows where pixels come from. */
export const BrushRing = ({
  at: [x, y],
  radius,
  colour,
  dashed,
}: {
  at: readonly [number, number];
  radius: number;
  colour: string;
  dashed?: boolean;
}) => <Circle x={x} y={y} radius={radius} stroke={colour} strokeWidth={1.5} dash={dashed ? [4, 4] : undefined} listening={false} />;
