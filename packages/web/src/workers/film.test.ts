import { Film, type Moment } from './film';

const frames = (count: number, drawn = count) =>
  Array.from({ length: count }, (_, i) => ({ frame: 1001 + i, key: i < drawn ? `k${i}` : null }));
/** Looks at a film every `step` milliseconds. */
function watch(film: Film, from: number, to: number, step: number): Moment[] {
  const out: Moment[] = [];
  for (let now = from; now <= to; now += step) {
    const moment = film.at(now);
    if (moment) out.push(moment);
  }
  return out;
}
const shown = (moments: Moment[]) => moments.flatMap((m) => (m && 'show' in m ? [m.show] : []));

test('every frame is shown once, at the rate of the film, whatever the display ticks at', () => {
  for (const perSecond of [24, 25, 60])
    for (const tick of [1000 / 60, 1000 / 75, 4]) {
      const film = new Film(frames(200), 0, perSecond, false),
        seen = shown(watch(film, 5000, 6000, Math.min(tick, 1000 / perSecond)));
      expect(seen).toEqual(Array.from({ length: seen.length }, (_, i) => 1001 + i));
      expect(Math.abs(seen.length - perSecond)).toBeLessThanOrEqual(1);
      expect(film.skipped).toBe(0);
      expect(film.rate).toBeCloseTo(perSecond, -1);
    }
});

test('looked at too late it leaves frames out, counts them and keeps its time', () => {
  const film = new Film(frames(100), 10, 24, false);
  expect(film.at(0)).toEqual({ show: 1011 });
  expect(film.at(500)).toEqual({ show: 1023 });
  expect(film.skipped).toBe(11);
});

test('it waits for a frame that is not drawn, and goes on from there without a jump', () => {
  const film = new Film(frames(50, 5), 0, 25, false);
  expect(shown(watch(film, 0, 160, 40))).toEqual([1001, 1002, 1003, 1004, 1005]);
  expect(film.at(200)).toEqual({ waitFor: 1006 });
  expect(film.at(900)).toEqual({ waitFor: 1006 });
  film.put(1006, 'k5');
  film.put(1007, 'k6');
  expect(film.at(940)).toEqual({ show: 1006 });
  expect(film.at(980)).toEqual({ show: 1007 });
  expect(film.skipped).toBe(0);
});

test('at the end it is over, or begins again', () => {
  const once = new Film(frames(3), 1, 25, false);
  expect(watch(once, 0, 120, 40)).toEqual([{ show: 1002 }, { show: 1003 }, { over: true }, { over: true }]);
  const round = new Film(frames(3), 1, 25, true);
  expect(shown(watch(round, 0, 200, 40))).toEqual([1002, 1003, 1001, 1002, 1003, 1001]);
});
