import { useEffect, useState } from 'react';
import { Group } from 'react-konva';
import type { FrontLine } from '@wraithos/core/render';
import type { Frame } from '@wraithos/core/motion';
import type { DrawnRow } from '@wraithos/core/shot';
import { AHEAD } from '../state/frameCache';
import { useDocument, useShot } from '../state/shotStore';
import { drawer, Dropped } from '../workers/pool';
import { FRONT_STEPS, FrontLabels } from './FrontLines';
import { colours, Outlined } from './marks';
import { toScreen, type Space } from './space';

/** How long nothing may change before the lines are found, milliseconds. */
const REST = 150;

/** The front of an arrival that follows its body: where it stands now (solid) and at frames around (dotted), and the lines that were painted for it. */
export function BodyFronts({ space, row, body }: { space: Space; row: DrawnRow; body: Frame }) {
  const shot = useDocument(),
    frame = useShot((s) => s.frame),
    playing = useShot((s) => s.playing),
    [found, setFound] = useState<{ frame: number; lines: FrontLine[] } | null>(null),
    arrives = !!row.effect?.arrives;
  useEffect(() => {
    if (!arrives || playing) return;
    const control = new AbortController();
    let timer = setTimeout(ask, REST);
    function ask(): void {
      drawer()
        .ask({ kind: 'front lines', shot, row: row.row, frame, frames: FRONT_STEPS.map((step) => frame + step) }, AHEAD + 1, control.signal)
        .then(
          (answer) => {
            if (!control.signal.aborted && answer.kind === 'front lines') setFound({ frame, lines: answer.lines });
          },
          // Pictures come first.
          (error: unknown) => {
            if (error instanceof Dropped && !control.signal.aborted) timer = setTimeout(ask, REST);
          },
        );
    }
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [shot, row.row, frame, playing, arrives]);
  if (!arrives || playing) return null;
  const lines = (found?.frame === frame ? found.lines : []).map((line) => ({
      at: line.frame,
      step: line.frame - frame,
      points: line.points.flatMap(([x, y]) => toScreen(space, x, y)),
    })),
    painted = linesDrawn(space, row, body, frame);
  return (
    <Group listening={false}>
      {lines.map((line, i) => (
        <Outlined key={i} points={line.points} colour={colours.mount} dash={line.step === 0 ? undefined : [2, 4]} />
      ))}
      <LinesDrawn lines={painted} />
      <FrontLabels lines={[...painted, ...lines].map(labelled)} />
    </Group>
  );
}

interface ShownLine {
  at: number;
  step: number;
  points: number[];
}
/** The lines of a row that were drawn for its frames, on the screen. */
const linesDrawn = (space: Space, row: DrawnRow, body: Frame, frame: number): ShownLine[] =>
  row.strokes.map((stroke) => ({
    at: row.first + stroke.frame,
    step: row.first + stroke.frame - frame,
    points: stroke.points.flatMap((p) => toScreen(space, ...body.toPicture(p))),
  }));
const labelled = (line: ShownLine) => ({ ...line, label: [line.points.at(-2)! + 4, line.points.at(-1)! - 6] as [number, number] });
const LinesDrawn = ({ lines }: { lines: readonly ShownLine[] }) =>
  lines.map((line, i) => <Outlined key={i} points={line.points} colour={colours.light} width={line.step === 0 ? 3 : 2} />);

/** The lines that the path of a row goes along, with their frames. */
export function PathLines({ space, row, body }: { space: Space; row: DrawnRow; body: Frame }) {
  const frame = useShot((s) => s.frame),
    playing = useShot((s) => s.playing),
    lines = linesDrawn(space, row, body, frame);
  return playing ? null : (
    <Group listening={false}>
      <LinesDrawn lines={lines} />
      <FrontLabels lines={lines.map(labelled)} />
    </Group>
  );
}
