import type { Params, StoredValue } from '@wraithos/core/params';
import {
  dropPlacedCurve,
  freezePlaced,
  setPlaced,
  setPlacedPoint,
  type PlacedEntry,
  type PlacedThing,
  together,
} from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { Freeze } from './Freeze';
import { ParamFields, type ParamTarget } from './ParamFields';

/** Values of a clip, a detached subject or an outline, as a form reads and changes them: each may be a curve over the frames since `from`. */
export function placedTarget(of: PlacedThing, placed: PlacedEntry, params: Params, frame: number, from: number): ParamTarget {
  const inRow = frame - from,
    point = (key: string, value: number) =>
      setPlacedPoint(of, key, { frame: inRow, value, ease: placed.curves[key]?.points.find((p) => p.frame === inRow)?.ease ?? 'smooth' }),
    both = (name: string, [x, y]: readonly [number, number]) => together('Set keyframe', point(`${name}.x`, x), point(`${name}.y`, y));
  return {
    values: placed.values as Record<string, StoredValue>,
    usual: (_, p) => p.default as StoredValue,
    put: (name, value) => setPlaced(of, name, value),
    reset: (name) => setPlaced(of, name, params[name]!.default as StoredValue),
    curves: {
      of: placed.curves,
      inRow,
      set: point,
      setPoint: (name, value) => (placed.curves[`${name}.x`] ? both(name, value) : setPlaced(of, name, value)),
      make: (name, value) => (value === null ? dropPlacedCurve(of, name) : point(name, value)),
      makePoint: (name, value) => (value === null ? dropPlacedCurve(of, `${name}.x`, `${name}.y`) : both(name, value)),
    },
  };
}

/** The fields of it. */
export function PlacedFields({ of, placed, params, from }: { of: PlacedThing; placed: PlacedEntry; params: Params; from: number }) {
  const { frame } = useParts('frame');
  return (
    <>
      <ParamFields params={params} title="" target={placedTarget(of, placed, params, frame, from)} />
      <Freeze at={frame - from} freeze={(at, frames) => freezePlaced(of, at, frames)} />
    </>
  );
}
