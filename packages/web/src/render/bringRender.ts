import { clipOfRender, getJob, imported } from '@wraithos/contract';
import { addClip, clipOf, freshId } from '@wraithos/core/shot';
import { call, read } from '../api/client';
import { followJob } from '../api/events';
import { useShot } from '../state/shotStore';

/** Brings the frames of a finished render in as a reference, to compare later pictures with. @throws an error in words where it cannot. */
export async function bringRender(job: string, first: number): Promise<void> {
  const begun = await call(clipOfRender, { params: { id: job } }),
    over = await followJob(
      begun.id,
      () => call(getJob, { params: { id: begun.id } }),
      () => undefined,
    );
  if (over.state !== 'done') throw new Error(over.message);
  const { hash, name, info } = read(imported, over.result),
    { shot, edit, set } = useShot.getState();
  if (!shot) return;
  const id = freshId(shot.clips, 'c'),
    clip = clipOf({ id, file: name, role: 'reference', media: { hash }, facts: { ...info, frameRate: shot.rate }, start: first });
  edit(addClip(clip, id));
  set({ notice: `${clip.name} is a reference of this shot now: choose it under Compare with another picture.` });
}
