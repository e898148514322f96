import { flatten } from './outline';
import type { Vertex } from './vertex';

/** Tells of a place whether it lies inside an outline (even-odd). */
export function insideOf(vertices: readonly Vertex[]): (p: readonly [number, number]) => boolean {
  const line = flatten(vertices, 0.5);
  return ([px, py]) => {
    let inside = false;
    const [x, y] = [px * 0.5, py * 0.5];
    for (let i = 0; i < line.length; i += 2) {
      const j = i + 2 < line.length ? i + 2 : 0,
        [ax, ay, bx, by] = [line[i]!, line[i + 1]!, line[j]!, line[j + 1]!];
      if (ay <= y !== by <= y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
    }
    return inside;
  };
}
