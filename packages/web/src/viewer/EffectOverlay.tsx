import { Fragment } from 'react';
import { effectOf, storedAt, type StoredValue } from '@wraithos/core/effects';
import { posesOf, type Tracks } from '@wraithos/core/render';
import { expandRow, rowRange, setCurvePoint, setPoint, setValue, type Edit, type Row } from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { FrontLines } from './FrontLines';
import { colours, Knob, Label, Outlined, Ring } from './marks';
import { toPicture, toScreen, type Space } from './space';

/** The working outline of the selected effect: its places, radii and directions, as handles on the picture. */
export function EffectOverlay({ space, row, tracks }: { space: Space; row: Row; tracks: Tracks }) {
  const shot = useDocument(),
    { frame, edit, preview } = useShot(),
    effect = effectOf(row.effect);
  if (!effect) return null;
  const inRow = frame - rowRange(shot, row)[0],
    pose = row.mount ? posesOf(shot, tracks)(row.mount, frame) : null,
    mountless = effect.origin === 'corner' ? [0, 0] : [shot.width / 2, shot.height / 2];
  const origin: [number, number] = pose ? [pose.x, pose.y] : (mountless as [number, number]);
  const value = <T extends StoredValue>(name: string): T =>
    storedAt(name, row.values[name] ?? (effect.params[name]!.default as StoredValue), row.curves, inRow) as T;
  const shown = (name: string) => {
    const w = effect.params[name]?.when;
    return !w || w.is.includes(String(value(w.param)));
  };
  const placeOf = (name: string | undefined): [number, number] => {
    const p = name ? value<[number, number]>(name) : [0, 0];
    return [origin[0] + p[0]!, origin[1] + p[1]!];
  };
  /** Sets a value, or its curve's point at this frame where it has a curve. */
  const put = (name: string, to: number): Edit =>
    row.curves[name] ? setCurvePoint(row.id, name, { frame: inRow, value: to, ease: 'smooth' }) : setValue(row.id, name, to);
  const round = (n: number) => Math.round(n * 10) / 10;
  // Where its twins stand, and what it aims at.
  const drawnRows = expandRow(shot, row),
    others = [row.aim, ...drawnRows.slice(1).flatMap((r) => [r.mount, r.aim !== row.aim ? r.aim : null])].flatMap((id, i) => {
      const at = id ? posesOf(shot, tracks)(id, frame) : null;
      return at && id ? [{ id: `${id} ${i}`, x: at.x, y: at.y, name: shot.mounts[id]!.name, certain: at.certain }] : [];
    });
  const hangs = pose ? shot.mounts[row.mount!] : undefined,
    [ox, oy] = toScreen(space, ...origin);
  return (
    <>
      {hangs && (
        <>
          <Ring x={ox} y={oy} radius={9} colour={colours.mount} dash={pose?.certain ? undefined : [3, 3]} />
          <Label x={ox + 12} y={oy - 16} text={hangs.name} />
        </>
      )}
      {others.map(({ id, x, y, name, certain }) => {
        const [sx, sy] = toScreen(space, x, y);
        return (
          <Fragment key={id}>
            <Ring x={sx} y={sy} radius={6} colour={colours.mount} dash={certain ? [2, 2] : [3, 3]} />
            <Label x={sx + 10} y={sy + 8} text={name} />
          </Fragment>
        );
      })}
      <FrontLines space={space} row={row} origin={origin} />
      {effect.handles?.map((handle, i) => {
        if (handle.shape === 'point') {
          if (!shown(handle.moves)) return null;
          const [x, y] = toScreen(space, ...placeOf(handle.moves)),
            moved = (sx: number, sy: number) => {
              const [px, py] = toPicture(space, sx, sy);
              return setPoint(row.id, handle.moves, [round(px - origin[0]), round(py - origin[1])], inRow);
            };
          return (
            <Fragment key={i}>
              <Outlined points={[ox, oy, x, y]} width={1} dash={[3, 3]} />
              <Knob
                x={x}
                y={y}
                name={`handle-${handle.moves}`}
                onMove={(a, b) => preview(moved(a, b))}
                onEnd={(a, b) => edit(moved(a, b))}
              />
            </Fragment>
          );
        }
        if (handle.shape === 'radius') {
          if (!shown(handle.sets)) return null;
          const about = placeOf(handle.about && shown(handle.about) ? handle.about : undefined),
            [x, y] = toScreen(space, ...about),
            radius = value<number>(handle.sets) * space.zoom,
            [low, high] = effect.params[handle.sets]!.range ?? [0, 4000];
          const moved = (sx: number, sy: number) =>
            put(handle.sets, Math.round(Math.min(high, Math.max(low, Math.hypot(sx - x, sy - y) / space.zoom))));
          return (
            <Fragment key={i}>
              <Ring x={x} y={y} radius={radius} dash={[6, 4]} />
              <Knob
                x={x + radius}
                y={y}
                size={4.5}
                colour={colours.light}
                cursor="ew-resize"
                name={`handle-${handle.sets}`}
                onMove={(a, b) => preview(moved(a, b))}
                onEnd={(a, b) => edit(moved(a, b))}
              />
            </Fragment>
          );
        }
        const about = placeOf(handle.about),
          [x, y] = toScreen(space, ...about),
          reach = value<number>(handle.stretches),
          radial = value<string>('shape') === 'radius',
          angle = ((radial ? 90 : value<number>(handle.turns)) * Math.PI) / 180;
        const [tx, ty] = toScreen(space, about[0] + Math.cos(angle) * reach, about[1] + Math.sin(angle) * reach);
        const moved = (sx: number, sy: number): Edit => {
          const dx = (sx - x) / space.zoom,
            dy = (sy - y) / space.zoom,
            length = setValue(row.id, handle.stretches, Math.max(10, Math.round(Math.hypot(dx, dy))));
          if (radial) return length;
          const turn = setValue(row.id, handle.turns, Math.round((Math.atan2(dy, dx) * 180) / Math.PI));
          return {
            name: 'Change arrival',
            apply: (s) => {
              length.apply(s);
              turn.apply(s);
            },
          };
        };
        return (
          <Fragment key={i}>
            {radial ? <Ring x={x} y={y} radius={reach * space.zoom} dash={[1, 5]} /> : <Outlined points={[x, y, tx, ty]} />}
            <Knob
              x={tx}
              y={ty}
              size={4.5}
              colour={colours.light}
              name={`handle-${handle.stretches}`}
              onMove={(a, b) => preview(moved(a, b))}
              onEnd={(a, b) => edit(moved(a, b))}
            />
          </Fragment>
        );
      })}
    </>
  );
}
