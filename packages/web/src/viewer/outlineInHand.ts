import type { Vertex } from '@wraithos/core/matte';
import type { StandingOutline } from '@wraithos/core/render';
import type { Edit } from '@wraithos/core/shot';
import type { Point } from './outlineGeometry';

/** An outline as its handles read and change it: places are stored ones (see `storedPlaces`). */
export interface OutlineInHand {
  vertices: Vertex[];
  standing: StandingOutline;
  /** Where it was carried here: how sure each vertex is, 0..1. */
  sure: readonly number[] | null;
  /** A stored place on the screen, and back. */
  screen(p: Point): [number, number];
  stored(x: number, y: number): Point;
  /** The whole outline set at this frame; `moved` names the vertices that differ. */
  put(vertices: readonly Vertex[], moved: readonly number[]): Edit;
}
