import { SquareSplitHorizontal } from 'lucide-react';
import { Circle, Line } from 'react-konva';
import { compareWays, wipeLine, type Compare } from '@wraithos/core/render';
import { ownClips } from '@wraithos/core/shot';
import { ChoiceField, NumberField } from '../settings/fields';
import { useDocument, useParts } from '../state/shotStore';
import { RailMenu } from './RailMenu';
import { toPicture, toScreen, type Space } from './space';

/** Before and behind a line down the middle: with the effects, and without. */
export const COMPARED_WITH_BASE: Compare = { with: { kind: 'base' }, how: 'wipe', at: 0.5, angle: 0 };

/** What the picture is looked at beside: the base, a clip, or another frame, by a wipe or otherwise. */
export function CompareMenu() {
  const shot = useDocument(),
    { compare, frame, set } = useParts('compare', 'frame', 'set'),
    clips = ownClips(shot),
    held = compare?.with.kind === 'frame' ? compare.with.frame : null,
    withWhat = !compare ? 'off' : compare.with.kind === 'clip' ? compare.with.clip : compare.with.kind,
    change = (to: Partial<Compare>) => compare && set({ compare: { ...compare, ...to } }),
    choose = (to: string) => {
      const before = compare ?? COMPARED_WITH_BASE;
      if (to === 'off') set({ compare: null });
      else if (to === 'base') set({ compare: { ...before, with: { kind: 'base' } } });
      else if (to === 'frame') set({ compare: { ...before, with: { kind: 'frame', frame } } });
      else set({ compare: { ...before, with: { kind: 'clip', clip: to } } });
    };
  return (
    <RailMenu name="Compare" label="Compare with another picture" keys="C" icon={<SquareSplitHorizontal size={16} />} on={compare !== null}>
      <ChoiceField
        label="Compared with"
        value={withWhat}
        of={['off', 'base', 'frame', ...clips.map((c) => c.id)]}
        words={Object.fromEntries([
          ['off', 'nothing'],
          ['base', 'the base, without effects'],
          ['frame', held === null ? `this frame, ${frame}, held` : `frame ${held}, held`],
          ...clips.map((c) => [c.id, c.name]),
        ])}
        onChange={choose}
      />
      {compare && <ChoiceField label="By" value={compare.how} of={compareWays} onChange={(how) => change({ how })} />}
      {compare?.how === 'wipe' && (
        <NumberField
          label="Angle"
          unit="°"
          range={[-180, 180]}
          value={compare.angle}
          help="Direction in which the line moves; 0 is to the right. Drag its handle on the picture."
          onChange={(angle) => change({ angle })}
        />
      )}
      {held !== null && (
        <button type="button" className="btn btn-quiet btn-sm mt-1" onClick={() => choose('frame')}>
          Hold frame {frame}
        </button>
      )}
    </RailMenu>
  );
}

/** The line of a wipe, with a handle that moves it. */
export function CompareLine({ space }: { space: Space }) {
  const shot = useDocument(),
    { compare, set } = useParts('compare', 'set');
  if (compare?.how !== 'wipe') return null;
  const { width, height } = shot,
    [a, b, c] = wipeLine(compare, width, height),
    reach = Math.abs(a) * width + Math.abs(b) * height,
    // The foot of the middle of the picture on the line, and far points along it.
    foot = c - (a * width + b * height) / 2,
    [mx, my] = [width / 2 + a * foot, height / 2 + b * foot],
    far = width + height,
    [hx, hy] = toScreen(space, mx, my),
    ends = [...toScreen(space, mx - b * far, my + a * far), ...toScreen(space, mx + b * far, my - a * far)];
  return (
    <>
      <Line points={ends} stroke="#000" strokeWidth={3} opacity={0.6} listening={false} />
      <Line points={ends} stroke="#ece8df" strokeWidth={1} listening={false} />
      <Circle
        name="wipe"
        x={hx}
        y={hy}
        radius={7}
        fill="#ece8df"
        stroke="#000"
        strokeWidth={1.5}
        draggable
        onDragMove={(event) => {
          const [x, y] = toPicture(space, event.target.x(), event.target.y()),
            along = a * (x - width / 2) + b * (y - height / 2);
          set({ compare: { ...compare, at: Math.min(1, Math.max(0, 0.5 + along / reach)) } });
        }}
        onDragEnd={(event) => event.target.position({ x: hx, y: hy })}
      />
    </>
  );
}
