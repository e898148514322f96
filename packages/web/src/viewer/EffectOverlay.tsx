import { Fragment } from 'react';
import { storedAt, type Handle, type Params, type StoredValue } from '@wraithos/core/effects';
import type { Point } from '@wraithos/core/motion';
import { framesOf } from '@wraithos/core/render';
import { carryRow, offsetRow, rowValues, setCurvePoint, setPoint, setValue, together, type Edit, type Row } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { BodyFronts, PathLines } from './BodyFronts';
import { FrontLines } from './FrontLines';
import { colours, Knob, Label, Outlined, Ring } from './marks';
import { PlacedHandles, sizesIn } from './PlacedHandles';
import { toPicture, toScreen, type Space } from './space';
import { useStanding } from './useStanding';

const round = (n: number) => Math.round(n * 10) / 10;
/** Pixels of the screen from the mount's ring to the knob that moves it. */
const BESIDE = 15;
/** Pixels of the screen from there to the knob that turns it. */
const AXIS = 30;
/** Points along a circle on the body, so that it is seen turned and slanted as the body is. */
const AROUND = Array.from({ length: 48 }, (_, i) => [Math.cos((i / 48) * 2 * Math.PI), Math.sin((i / 48) * 2 * Math.PI)] as const);

/** The working outline of the selected effect: its places, radii and directions, as handles on the picture. */
export function EffectOverlay({ space, row }: { space: Space; row: Row }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, edit, preview } = useParts('frame', 'edit', 'preview'),
    standing = useStanding(row.id),
    effect = standing?.row.effect;
  if (!standing || !effect) return null;
  const { row: drawn, twins, body } = standing,
    inRow = frame - drawn.first,
    onScreen = (p: Point): [number, number] => toScreen(space, ...body.toPicture(p)),
    onBody = (sx: number, sy: number): Point => body.toBody(toPicture(space, sx, sy));
  const value = <T extends StoredValue>(name: string): T =>
    storedAt(name, drawn.values[name] ?? (effect.params[name]!.default as StoredValue), drawn.curves, inRow) as T;
  const shown = (name: string) => {
    const w = effect.params[name]?.when;
    return !w || w.is.includes(String(value(w.param)));
  };
  const placeOf = (name: string | undefined): Point => (name && shown(name) ? value<[number, number]>(name) : [0, 0]);
  /** Sets a value, or its curve's point at this frame where it has a curve. */
  const put = (name: string, to: number): Edit =>
    row.curves[name] ? setCurvePoint(row.id, name, { frame: inRow, value: to, ease: 'smooth' }) : setValue(row.id, name, to);
  const knob = (name: string, at: Point, moved: (p: Point) => Edit, more: Partial<Parameters<typeof Knob>[0]> = {}) => {
    const [x, y] = onScreen(at);
    return (
      <Knob
        x={x}
        y={y}
        name={`handle-${name}`}
        onMove={(a, b) => preview(moved(onBody(a, b)))}
        onEnd={(a, b) => edit(moved(onBody(a, b)))}
        {...more}
      />
    );
  };
  const circle = (about: Point, radius: number): number[] =>
    AROUND.flatMap(([c, s]) => onScreen([about[0] + radius * c, about[1] + radius * s]));
  const draw = (handle: Handle<Params>) => {
    if (handle.shape === 'point') {
      if (!shown(handle.moves)) return null;
      const at = placeOf(handle.moves);
      return (
        <>
          <Outlined points={[...onScreen([0, 0]), ...onScreen(at)]} width={1} dash={[3, 3]} />
          {knob(handle.moves, at, ([x, y]) => setPoint(row.id, handle.moves, [round(x), round(y)], inRow))}
        </>
      );
    }
    if (handle.shape === 'radius') {
      if (!shown(handle.sets)) return null;
      const about = placeOf(handle.about),
        radius = value<number>(handle.sets),
        [low, high] = effect.params[handle.sets]!.range ?? [0, 4000],
        moved = ([x, y]: Point) => put(handle.sets, Math.round(Math.min(high, Math.max(low, Math.hypot(x - about[0], y - about[1])))));
      return (
        <>
          <Outlined points={circle(about, radius)} closed dash={[6, 4]} />
          {knob(handle.sets, [about[0] + radius, about[1]], moved, { size: 4.5, colour: colours.light, cursor: 'ew-resize' })}
        </>
      );
    }
    if (handle.shape === 'placed') {
      // What shows no clip says its own size.
      const outline = effect.outline?.(rowValues(drawn, frame, 1), sizesIn(shot, drawn.element ?? shot)),
        by = (name: string) => (name === 'size' ? handle.sizes : name);
      return (
        outline && (
          <PlacedHandles
            outline={outline}
            onScreen={onScreen}
            onBody={onBody}
            round={handle.round}
            value={(name) => value<number>(by(name))}
            put={(name, to) => put(by(name), to)}
            putPlace={(p) => setPoint(row.id, 'place', [round(p[0]), round(p[1])], inRow)}
          />
        )
      );
    }
    // Nothing goes out from a place that does not count.
    if (handle.about && !shown(handle.about)) return null;
    const about = placeOf(handle.about),
      reach = value<number>(handle.stretches),
      radial = !shown(handle.turns),
      angle = ((radial ? 90 : value<number>(handle.turns)) * Math.PI) / 180,
      tip: Point = [about[0] + Math.cos(angle) * reach, about[1] + Math.sin(angle) * reach];
    const moved = ([x, y]: Point): Edit => {
      const dx = x - about[0],
        dy = y - about[1],
        length = setValue(row.id, handle.stretches, Math.max(10, Math.round(Math.hypot(dx, dy))));
      if (radial) return length;
      const turn = setValue(row.id, handle.turns, Math.round((Math.atan2(dy, dx) * 180) / Math.PI));
      return together('Change arrival', length, turn);
    };
    return (
      <>
        {radial ? (
          <Outlined points={circle(about, reach)} closed dash={[1, 5]} />
        ) : (
          <Outlined points={[...onScreen(about), ...onScreen(tip)]} />
        )}
        {knob(handle.stretches, tip, moved, { size: 4.5, colour: colours.light })}
      </>
    );
  };
  // Where its twins stand, and what it aims at.
  const others = [drawn.aim, ...twins.flatMap((t) => [t.mount, t.aim !== drawn.aim ? t.aim : null])].flatMap((id, i) => {
      const there = id ? framesOf(shot, tracks).at(id, frame, drawn.subject?.id) : null;
      return there && id ? [{ key: `${id} ${i}`, at: there.toPicture([0, 0]), name: shot.mounts[id]!.name, certain: there.certain }] : [];
    }),
    mount = body.hung ? shot.mounts[drawn.mount!] : undefined,
    // What a group lends is moved where it belongs to, not here.
    own = mount && row.mount === mount.id,
    offset = (sx: number, sy: number): Edit => {
      const [x, y] = onBody(sx + BESIDE, sy);
      return offsetRow(row.id, [round(mount!.offset[0] + x), round(mount!.offset[1] + y)]);
    },
    [ox, oy] = onScreen([0, 0]),
    // Where the body's own x axis points on the screen: the mount's knob for turning stands there.
    [ax, ay] = onScreen([1 / space.zoom, 0]),
    axis = Math.atan2(ay - oy, ax - ox),
    turned = (sx: number, sy: number): Edit => {
      const by = ((Math.atan2(sy - oy, sx - ox) - axis) * 180) / Math.PI,
        turn = mount!.turn + by - 360 * Math.round(by / 360);
      return carryRow(row.id, { turn: round(turn - 360 * Math.round(turn / 360)) });
    };
  return (
    <>
      {mount && (
        <>
          <Ring x={ox} y={oy} radius={9} colour={colours.mount} dash={body.certain ? undefined : [3, 3]} />
          <Label x={ox + 12} y={oy - 16} text={mount.name} />
          {own && (
            <>
              <Outlined points={[ox, oy, ox + AXIS * Math.cos(axis), oy + AXIS * Math.sin(axis)]} width={1} colour={colours.mount} />
              <Knob
                x={ox + AXIS * Math.cos(axis)}
                y={oy + AXIS * Math.sin(axis)}
                size={3}
                colour={colours.mount}
                name="handle-mount-turn"
                onMove={(a, b) => preview(turned(a, b))}
                onEnd={(a, b) => edit(turned(a, b))}
              />
            </>
          )}
          {own && (
            // Beside the ring: at its middle stands the effect's own place.
            <Knob
              x={ox - BESIDE}
              y={oy}
              size={3}
              square
              name="handle-mount"
              onMove={(a, b) => preview(offset(a, b))}
              onEnd={(a, b) => edit(offset(a, b))}
            />
          )}
        </>
      )}
      {others.map(({ key, at, name, certain }) => {
        const [sx, sy] = toScreen(space, ...at);
        return (
          <Fragment key={key}>
            <Ring x={sx} y={sy} radius={6} colour={colours.mount} dash={certain ? [2, 2] : [3, 3]} />
            <Label x={sx + 10} y={sy + 8} text={name} />
          </Fragment>
        );
      })}
      {effect.arrives && ['along the body', 'strokes', 'a matte'].includes(String(value('shape'))) ? (
        <BodyFronts space={space} row={drawn} body={body} />
      ) : (
        <FrontLines space={space} row={drawn} body={body} />
      )}
      {effect.params.goes && value('goes') === 'along a drawn line' && <PathLines space={space} row={drawn} body={body} />}
      {effect.handles?.map((handle, i) => (
        <Fragment key={i}>{draw(handle)}</Fragment>
      ))}
    </>
  );
}
