import type { MediumFacts } from './create';
import { freshName, newPlacing, plainReading, readingOf } from './create';
import { clipParams } from '../placing';
import { edit, type Edit } from './edit';
import type { Clip, MadePlate, Shot } from './schema';

/** The built clean plate of a clip; undefined where none was. */
export const builtPlate = (shot: Pick<Shot, 'clips'>, clip: string): Clip | undefined =>
  Object.values(shot.clips).find((c) => c.role === 'clean' && c.made?.clip === clip);

/** What a plate is built with where nobody has said anything: all frames, and the matte of the clip's subject left out. */
export function newPlateSettings(shot: Shot, clip: Clip): Pick<MadePlate, 'camera' | 'flicker' | 'grain' | 'first' | 'last' | 'matte'> {
  const before = builtPlate(shot, clip.id)?.made,
    last = clip.frames - 1;
  return before
    ? { ...before, first: Math.min(before.first, last), last: Math.min(before.last, last) }
    : { camera: 'measured', flicker: true, grain: false, first: 0, last, matte: null };
}

/**
 * Takes a built clean plate over: it replaces one that was built of the same clip before, and everything that was measured and made with it stays.
 * Another clean plate, of somebody's own, becomes a reference.
 * @param id of the clip where it is a new one.
 */
export const keepBuiltPlate = (id: string, of: string, media: Clip['media'], facts: MediumFacts, made: MadePlate): Edit =>
  edit('Build clean plate', (s) => {
    const from = s.clips[of];
    if (!from) return;
    const shape = {
        media,
        width: facts.width,
        height: facts.height,
        frames: facts.frames,
        rate: facts.frameRate,
        alpha: false,
        bits: facts.bitDepth,
        ...readingOf(facts),
        primaries: from.primaries,
        lut: from.lut,
        made,
      },
      known = Object.values(s.clips).find((c) => c.made?.clip === of);
    for (const other of Object.values(s.clips)) if (other.role === 'clean' && other !== known) other.role = 'reference';
    if (known) Object.assign(known, shape, { role: 'clean' });
    else
      s.clips[id] = {
        id,
        name: freshName(s.clips, `${from.name} clean`.slice(0, 120)),
        role: 'clean',
        continues: null,
        cue: from.cue,
        start: from.start,
        placed: newPlacing(clipParams),
        ...plainReading,
        ...shape,
      };
  });
