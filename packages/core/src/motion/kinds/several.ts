import { PI } from '../../image/exactMath';
import { AffineFrame, type Point } from '../frame';
import { placeAt } from '../layers';
import { similarityOf, sizeOf, turnOf } from '../similarity';
import { trackKind } from './describe';

/** Several tracks as one: their mean place, and the turn and growth of all of them together. */
export const several = trackKind({
  kind: 'several',
  title: 'Several',
  summary: 'Stands in the middle of other tracks, and turns and grows as they do together.',
  params: {},
  boxes: [],
  joins: 'several',
  frame({ others, reference }, clipFrame) {
    const now = others.flatMap((samples) => {
        const here = placeAt(samples, clipFrame),
          then = placeAt(samples, reference);
        return here && then ? [{ here, then }] : [];
      }),
      // What is lost has no say while another one is seen.
      seen = now.filter(({ here }) => here.state !== 'lost'),
      used = seen.length ? seen : now;
    if (!used.length) return null;
    const mean = (of: (p: (typeof now)[number]) => number) => used.reduce((sum, p) => sum + of(p), 0) / used.length,
      at: Point = [mean((p) => p.here.x), mean((p) => p.here.y)],
      standing = {
        certain: used.every(({ here }) => here.state !== 'lost' && here.state !== 'weak'),
        lost: seen.length === 0,
        hung: true,
      },
      map =
        used.length > 1
          ? similarityOf(
              used.map(
                ({ here, then }) =>
                  [
                    [then.x, then.y],
                    [here.x, here.y],
                  ] as const,
              ),
            )
          : null;
    // Where not all are seen, the middle of those that are is carried to the middle of all.
    if (map && used.length < others.length && used.length > 1) {
      const all = others.flatMap((samples) => placeAt(samples, reference) ?? []),
        x = all.reduce((sum, p) => sum + p.x, 0) / all.length,
        y = all.reduce((sum, p) => sum + p.y, 0) / all.length;
      return AffineFrame.turned(
        map.a * x - map.b * y + map.x,
        map.b * x + map.a * y + map.y,
        (turnOf(map) * 180) / PI,
        sizeOf(map),
        standing,
      );
    }
    return map
      ? AffineFrame.turned(at[0], at[1], (turnOf(map) * 180) / PI, sizeOf(map), standing)
      : new AffineFrame(at[0], at[1], undefined, standing);
  },
});
