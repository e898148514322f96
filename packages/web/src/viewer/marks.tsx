import { Circle, Group, Line, Rect, Text } from 'react-konva';
import type Konva from 'konva';

export const colours = { mount: '#6fc7b0', matte: '#b79fe0', trouble: '#e5735c', light: '#f4f1ea', dark: '#101112' };

/** A line that reads on any picture: light inside dark. */
export function Outlined({
  points,
  colour = colours.light,
  closed,
  dash,
  width = 1.4,
}: {
  points: number[];
  colour?: string;
  closed?: boolean;
  dash?: number[];
  width?: number;
}) {
  return (
    <Group listening={false}>
      <Line points={points} closed={closed} stroke={colours.dark} strokeWidth={width + 2} opacity={0.75} lineJoin="round" />
      <Line points={points} closed={closed} stroke={colour} strokeWidth={width} dash={dash} lineJoin="round" />
    </Group>
  );
}
export function Ring({
  x,
  y,
  radius,
  colour = colours.light,
  dash,
}: {
  x: number;
  y: number;
  radius: number;
  colour?: string;
  dash?: number[];
}) {
  return (
    <Group listening={false}>
      <Circle x={x} y={y} radius={radius} stroke={colours.dark} strokeWidth={3.4} opacity={0.7} />
      <Circle x={x} y={y} radius={radius} stroke={colour} strokeWidth={1.4} dash={dash} />
    </Group>
  );
}
export function Label({ x, y, text, colour = colours.light }: { x: number; y: number; text: string; colour?: string }) {
  return (
    <Text
      listening={false}
      x={x}
      y={y}
      text={text}
      fontFamily="IBM Plex Mono"
      fontSize={11}
      fill={colour}
      stroke={colours.dark}
      strokeWidth={3}
      fillAfterStrokeEnabled
    />
  );
}

export interface KnobProps {
  x: number;
  y: number;
  colour?: string;
  square?: boolean;
  size?: number;
  name?: string;
  onMove(x: number, y: number): void;
  onEnd(x: number, y: number): void;
  /** @param more Shift was held. */
  onClick?(more: boolean): void;
  onDblClick?(): void;
  cursor?: string;
}
/** A handle to drag, in screen pixels. */
export function Knob({
  x,
  y,
  colour = colours.mount,
  square,
  size = 5.5,
  name,
  onMove,
  onEnd,
  onClick,
  onDblClick,
  cursor = 'move',
}: KnobProps) {
  const at = (event: Konva.KonvaEventObject<DragEvent>): [number, number] => [event.target.x(), event.target.y()];
  const shared = { fill: colours.dark, stroke: colour, strokeWidth: 2, hitStrokeWidth: 12 };
  return (
    <Group
      x={x}
      y={y}
      name={name}
      draggable
      onDragStart={(e) => {
        e.cancelBubble = true;
      }}
      onDragMove={(e) => onMove(...at(e))}
      onDragEnd={(e) => onEnd(...at(e))}
      onClick={(e) => {
        e.cancelBubble = true;
        onClick?.(e.evt?.shiftKey ?? false);
      }}
      onDblClick={(e) => {
        e.cancelBubble = true;
        onDblClick?.();
      }}
      onMouseEnter={(e) => {
        e.target.getStage()!.container().style.cursor = cursor;
      }}
      onMouseLeave={(e) => {
        e.target.getStage()!.container().style.cursor = '';
      }}
    >
      {square ? <Rect x={-size} y={-size} width={2 * size} height={2 * size} {...shared} /> : <Circle radius={size} {...shared} />}
    </Group>
  );
}

/** A point of an outline that is being drawn; the first one is larger, since a press on it closes the line. */
export function SetPoint({ x, y, first, onPress }: { x: number; y: number; first: boolean; onPress?(): void }) {
  return (
    <Circle
      x={x}
      y={y}
      radius={first ? 6 : 3.5}
      fill={colours.dark}
      stroke={colours.matte}
      strokeWidth={2}
      hitStrokeWidth={onPress ? 10 : 0}
      listening={!!onPress}
      onMouseDown={(e) => {
        e.cancelBubble = true;
        onPress?.();
      }}
    />
  );
}
