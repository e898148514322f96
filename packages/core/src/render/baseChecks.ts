import { cornersOf } from '../image/homography';
import { appearanceOf } from '../shot/appearance';
import { partAt, placedRange } from '../shot/when';
import { leadingRow, takeStart } from '../shot/query';
import type { Shot } from '../shot/schema';
import { canBeEmptied, inBase, isOpaque } from './base';
import type { Check } from './check';

/** What is wrong with the base and with the subjects that stand on it or were taken off it. */
export const baseChecks = (shot: Shot): Check[] => [...subjectChecks(shot), ...placementChecks(shot), ...takeChecks(shot)];

/** Subjects that cannot be laid back, or that leave themselves behind where they were filmed. */
function subjectChecks(shot: Shot): Check[] {
  return Object.values(shot.subjects).flatMap((subject): Check[] => {
    const clip = shot.clips[subject.clip],
      matte = subject.matte ? shot.mattes[subject.matte] : undefined,
      there = clip ? inBase(shot, clip.id) : false;
    if (subject.detached && !matte)
      return [
        {
          id: 'detached-without-matte',
          text: `${subject.name} is detached and has no matte, so it is nowhere.`,
          fix: 'Give it a matte on Mattes, or switch Detached off.',
        },
      ];
    if (subject.detached && clip && there && !canBeEmptied(shot, clip))
      return [
        {
          id: 'detached-twice',
          text: `${subject.name} is detached, and still stands where it was filmed: there is no clean plate of ${clip.name}.`,
          fix: 'Build its clean plate, bring one in on Plates, or put another background in the base.',
          mend: 'clean plate',
        },
      ];
    if (!subject.detached && clip && !there)
      return [
        {
          id: 'subject-not-in-base',
          text: `${subject.name} stands on ${clip.name}, which is not in the base, so it is not seen.`,
          fix: 'Switch Detached on, so that it is laid over the background; or put the clip into the base.',
        },
      ];
    return [];
  });
}

/** Takes of the base whose edge stands inside the picture with nothing behind it, or that have no frame to show. */
function placementChecks(shot: Shot): Check[] {
  if (isOpaque(shot)) return [];
  const out: Check[] = [];
  for (const take of shot.base.takes) {
    const clip = shot.clips[take.clip];
    if (!clip || clip.alpha) continue;
    const inside = (frame: number): boolean => {
      const look = appearanceOf(shot, clip, frame),
        corners = look.matrix && !look.whole ? cornersOf(look.matrix, clip.width, clip.height) : null;
      // A corner of the picture outside the clip's four edges sees its edge.
      return !!corners && !holdsPicture(corners, shot);
    };
    for (let frame = shot.first; frame <= shot.last; frame++) {
      const over = !appearanceOf(shot, clip, frame).moments.length;
      if (!over && !inside(frame)) continue;
      out.push({
        id: over ? 'take-over' : 'take-edge',
        frame,
        text: over
          ? `${clip.name} has no frame at ${frame}, and nothing lies behind it.`
          : `The edge of ${clip.name} stands inside the picture at ${frame}, and nothing lies behind it.`,
        fix: over ? 'Let it stay or loop, or put a background in the base.' : 'Make it larger, or put a background in the base.',
      });
      break;
    }
  }
  return out;
}
/** Takes that nothing lets in, and takes that stand still because their speed used up their frames. */
function takeChecks(shot: Shot): Check[] {
  const out: Check[] = [];
  shot.base.takes.forEach((take, i) => {
    const clip = shot.clips[take.clip],
      from = i === 0 ? shot.first : takeStart(shot, take),
      next = shot.base.takes[i + 1],
      to = Math.min(shot.last, next ? takeStart(shot, next) - 1 : shot.last),
      { transition } = take.values;
    if (!clip) return;
    if (i > 0 && ((transition === 'led by a matte' && !take.matte) || (transition === 'led by an effect' && !leadingRow(shot, take))))
      out.push({
        id: 'take-not-led',
        frame: from,
        text: `${clip.name} is to come in ${transition}, and none is chosen.`,
        fix: 'Choose one under Led by, or another transition.',
      });
    const part = partAt(shot, clip, to),
      { values, curves } = part.placed,
      retimed = curves.speed !== undefined || ((values.speed ?? 100) as number) > 100,
      [, end] = placedRange(shot, part);
    if (retimed && (values.playback ?? 'once, then stays') === 'once, then stays' && end !== null && end < to)
      out.push({
        id: 'speed-runs-out',
        frame: Math.max(shot.first, end + 1),
        text: `${part.name} has used up its frames at ${end} and stands still to ${to}.`,
        fix: 'Lower its speed, let it loop, or let the next take come in earlier.',
      });
  });
  return out;
}
/** True where four corners (in turn) hold all corners of the picture. */
function holdsPicture(corners: readonly (readonly [number, number])[], { width, height }: Shot): boolean {
  const side = (i: number, x: number, y: number) => {
      const [a, b] = [corners[i]!, corners[(i + 1) & 3]!];
      return (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0]);
    },
    // Half a pixel outside counts as held: rounding is no edge.
    held = (x: number, y: number) => {
      const sides = [0, 1, 2, 3].map((i) => side(i, x, y));
      return sides.every((s) => s >= -1e-3) || sides.every((s) => s <= 1e-3);
    };
  return held(0.5, 0.5) && held(width - 0.5, 0.5) && held(width - 0.5, height - 0.5) && held(0.5, height - 0.5);
}
