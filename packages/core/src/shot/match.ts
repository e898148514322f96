import { cos, radians, sin } from '../image/exactMath';
import { edit, type Edit } from './edit';
import type { Clip, PlacedEntry, Shot } from './schema';

/*
 * Edits that bring one take to another, from what was measured between them (render/takes.ts).
 */

const PLACE = ['place.x', 'place.y', 'size', 'turn'],
  LIGHT = ['red', 'green', 'blue'] as const;
/** Why a clip cannot be matched to another in place or light, for people; null where it can. */
export function whyNotMatch(clip: Clip, what: 'place' | 'light'): string | null {
  const { values, curves } = clip.placed;
  if (clip.role === 'clean') return 'A clean plate stands where the performance does.';
  if (what === 'place' && values.placedBy === 'four corners') return 'It is placed by its corners; place it by size and turn first.';
  return (what === 'place' ? PLACE : LIGHT).some((name) => curves[name])
    ? `Its ${what} changes over time; remove those keyframes first.`
    : null;
}

/** Rounded as people read it, so that a match can be undone by hand. */
const rounded = (n: number, step: number) => Math.round(n / step) * step;
const number = (placed: PlacedEntry, name: string, usual: number): number => (placed.values[name] ?? usual) as number;

/**
 * Moves, turns and sizes a clip as it stands now.
 * @param by what was measured: shift in pixels and turn in degrees, about the middle of the picture, and times its size.
 */
export function matchPlace(shot: Shot, id: string, by: { shift: readonly [number, number]; turn: number; size: number }): Edit {
  const { placed } = shot.clips[id]!,
    [x, y] = (placed.values.place ?? [0, 0]) as [number, number],
    [c, s] = [cos(radians(by.turn)) * by.size, sin(radians(by.turn)) * by.size];
  return edit('Match place', (draft) => {
    const { values } = draft.clips[id]!.placed;
    values.place = [rounded(c * x - s * y + by.shift[0], 0.01), rounded(s * x + c * y + by.shift[1], 0.01)];
    values.turn = rounded(number(placed, 'turn', 0) + by.turn, 0.001);
    values.size = rounded(number(placed, 'size', 100) * by.size, 0.001);
  });
}
/** Gives a clip another light than it has now: gains of red, green and blue on top of its own. */
export const matchLight = (shot: Shot, id: string, gains: readonly [number, number, number]): Edit =>
  edit('Match light', (draft) => {
    LIGHT.forEach((name, i) => {
      draft.clips[id]!.placed.values[name] = Math.min(1600, rounded(number(shot.clips[id]!.placed, name, 100) * gains[i]!, 0.1));
    });
  });
