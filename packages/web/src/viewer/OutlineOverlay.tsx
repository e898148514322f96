import { Fragment } from 'react';
import { Line } from 'react-konva';
import { flatten } from '@wraithos/core/matte';
import { framesOf, outlineAt } from '@wraithos/core/render';
import { appearanceOf, changeOutline, clipFrame, matteClip, onClip, onPicture, type Matte, type Outline } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { colours, Knob, Outlined } from './marks';
import { toPicture, toScreen, type Space } from './space';

/** Outlines of the selected matte, with handles for the selected one. */
export function OutlineOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    { selection, outline, set } = useParts('selection', 'outline', 'set'),
    matte: Matte | undefined = selection?.kind === 'matte' ? shot.mattes[selection.id] : undefined;
  return (
    <>
      {matte?.outlines.map((o) => (
        <One key={o.id} matte={matte} outline={o} space={space} selected={o.id === outline} onSelect={() => set({ outline: o.id })} />
      ))}
    </>
  );
}

function One({
  matte,
  outline,
  space,
  selected,
  onSelect,
}: {
  matte: Matte;
  outline: Outline;
  space: Space;
  selected: boolean;
  onSelect(): void;
}) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, edit, preview } = useParts('frame', 'edit', 'preview'),
    mounts = framesOf(shot, tracks),
    // What is drawn on a clip is in its pixels, at its frames.
    clip = matteClip(shot, matte),
    look = clip ? appearanceOf(shot, clip, frame) : null,
    at = clip ? clipFrame(shot, clip, frame) : frame,
    onScreen = (x: number, y: number) => toScreen(space, ...(look ? onPicture(look, [x, y]) : ([x, y] as const))),
    // Where it stands at this frame; what is dragged there is stored as it stood when it was drawn.
    there = outlineAt(outline, at, mounts).vertices,
    now = outline.mount ? mounts.onClip(outline.mount, at) : null,
    then = outline.mount ? mounts.onClip(outline.mount, outline.mountFrame) : null,
    asDrawn = (p: [number, number]) => {
      const here = look ? onClip(look, p) : p;
      return now && then ? then.toPicture(now.toBody(here)) : here;
    },
    line = flatten(there, 1),
    screen: number[] = [];
  for (let i = 0; i < line.length; i += 2) screen.push(...onScreen(line[i]!, line[i + 1]!));
  const change = (i: number, part: 'at' | 'in' | 'out', sx: number, sy: number) => {
    const [x, y] = asDrawn(toPicture(space, sx, sy));
    return changeOutline(matte.id, outline.id, {
      vertices: outline.vertices.map((v, k) => {
        if (k !== i) return v;
        if (part === 'at') return { ...v, x, y };
        // The two handles of a smooth vertex stay in line.
        const d: [number, number] = [x - v.x, y - v.y],
          l = Math.hypot(...d) || 1,
          other = part === 'in' ? v.out : v.in,
          keep = Math.hypot(...other);
        const opposite: [number, number] = [(-d[0] / l) * keep, (-d[1] / l) * keep];
        return part === 'in' ? { ...v, in: d, out: opposite } : { ...v, out: d, in: opposite };
      }),
    });
  };
  /** A double-click turns a corner into a smooth vertex and back. */
  const toggle = (i: number) => {
    const vs = outline.vertices,
      v = vs[i]!,
      before = vs[(i + vs.length - 1) % vs.length]!,
      after = vs[(i + 1) % vs.length]!,
      corner = v.out[0] === 0 && v.out[1] === 0;
    const tangent: [number, number] = [(after.x - before.x) / 6, (after.y - before.y) / 6];
    edit(
      changeOutline(matte.id, outline.id, {
        vertices: vs.map((w, k) =>
          k !== i ? w : corner ? { ...w, in: [-tangent[0], -tangent[1]], out: tangent } : { ...w, in: [0, 0], out: [0, 0] },
        ),
      }),
    );
  };
  return (
    <>
      <Outlined
        points={screen}
        closed
        colour={colours.matte}
        dash={outline.mode === 'take away' ? [7, 4] : outline.mode === 'keep inside' ? [2, 3] : undefined}
      />
      <Line
        points={screen}
        closed
        stroke="transparent"
        hitStrokeWidth={10}
        onClick={(e) => {
          e.cancelBubble = true;
          onSelect();
        }}
      />
      {selected &&
        there.map((v, i) => {
          const [sx, sy] = onScreen(v.x, v.y);
          return (
            <Fragment key={i}>
              {(['in', 'out'] as const).map((part) => {
                const d = v[part];
                if (d[0] === 0 && d[1] === 0) return null;
                const [hx, hy] = onScreen(v.x + d[0], v.y + d[1]);
                return (
                  <Fragment key={part}>
                    <Outlined points={[sx, sy, hx, hy]} width={1} />
                    <Knob
                      x={hx}
                      y={hy}
                      size={3.5}
                      colour={colours.light}
                      onMove={(a, b) => preview(change(i, part, a, b))}
                      onEnd={(a, b) => edit(change(i, part, a, b))}
                    />
                  </Fragment>
                );
              })}
              <Knob
                x={sx}
                y={sy}
                square
                size={4}
                colour={colours.matte}
                onMove={(a, b) => preview(change(i, 'at', a, b))}
                onEnd={(a, b) => edit(change(i, 'at', a, b))}
                onDblClick={() => toggle(i)}
              />
            </Fragment>
          );
        })}
    </>
  );
}
