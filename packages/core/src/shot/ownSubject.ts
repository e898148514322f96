import { edit, type Edit } from './edit';
import { freshId, freshName, newMatte, newSubject } from './create';
import type { Clip, Shot } from './schema';

/**
 * A performance that brings alpha (a figure drawn or rendered on nothing) is isolated as it comes: its alpha becomes a matte, sharp as it was drawn, and a
 * subject of the same name is made of it. Nothing where the clip has no alpha or another role, or where the shot has a subject.
 * @param clip the clip, which is in the shot. @example together('Add clip', addClip(clip, 'c1'), ownSubject('c1'))
 */
export const ownSubject = (clip: string): Edit =>
  edit('Isolate by its alpha', (s) => {
    const it = s.clips[clip];
    if (!it?.alpha || it.role !== 'performance' || Object.keys(s.subjects).length) return;
    const matte = freshId(s.mattes, 'k'),
      made = newMatte({ id: matte, name: freshName(s.mattes, it.name), source: 'clip', clip: null });
    s.mattes[matte] = { ...made, refine: made.refine.map((one) => (one.kind === 'blur' ? { ...one, radius: 0 } : one)) };
    const id = freshId(s.subjects, 's');
    s.subjects[id] = { ...newSubject({ id, name: it.name, clip: it as Clip, shot: s as Shot }), matte };
  });
