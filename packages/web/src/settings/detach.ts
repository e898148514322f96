import { changeSubject, setPlaced, together } from '@wraithos/core/shot';
import { useShot } from '../state/shotStore';
import { mattesAt } from '../workers/mattesAt';

/** Detaches a subject from its plate, or lays it back into it. The first time its pivot comes to its feet: the middle of the lower end of its matte. */
export async function detach(id: string, on: boolean): Promise<void> {
  const { shot, frame, edit, set } = useShot.getState(),
    subject = shot?.subjects[id];
  if (!shot || !subject) return;
  const turn = changeSubject(id, { detached: on }),
    [px, py] = subject.placed.values.pivot as [number, number];
  if (!on || !subject.matte || px !== 0 || py !== 0) return edit(together(on ? 'Detach subject' : 'Attach subject', turn));
  try {
    const [found] = await mattesAt(shot, frame, [subject.matte], null),
      box = found?.box,
      feet: [number, number] = box ? [Math.round((box[0] + box[2]) / 2 - shot.width / 2), Math.round(box[3] - shot.height / 2)] : [0, 0];
    edit(together('Detach subject', turn, setPlaced({ kind: 'subject', id }, 'pivot', feet)));
  } catch (error) {
    set({ notice: (error as Error).message });
  }
}
