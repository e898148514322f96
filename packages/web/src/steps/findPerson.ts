import { findPerson as find, personHeight, PERSON_SIDE, type FoundPerson } from '@wraithos/core/matte';
import { appearanceOf, clipFrame, clipOf, clipWithRole, keepPerson, onClip, type Clip } from '@wraithos/core/shot';
import { bring } from '../api/bring';
import { squaresOf } from '../faces/squares';
import { useShot } from '../state/shotStore';
import { useIsolating, working } from './isolate';

/** A found matte as the alpha of a white picture of the size of its clip. */
async function pictureOf({ mask, at, side }: FoundPerson, { width, height }: Clip, name: string): Promise<File> {
  const canvas = new OffscreenCanvas(width, height),
    context = canvas.getContext('2d')!;
  if (mask) {
    const small = new OffscreenCanvas(PERSON_SIDE, PERSON_SIDE),
      white = new ImageData(PERSON_SIDE, PERSON_SIDE);
    white.data.fill(255);
    mask.forEach((v, p) => (white.data[4 * p + 3] = Math.round(255 * v)));
    small.getContext('2d')!.putImageData(white, 0, 0);
    context.imageSmoothingQuality = 'high';
    context.drawImage(small, at[0] - side / 2, at[1] - side / 2, side, side);
  }
  return new File([await canvas.convertToBlob({ type: 'image/png' })], name, { type: 'image/png' });
}

/** Finds the person at a place of the picture (whole-shot pixels) on every frame of the clip, and makes a matte and a subject of what was found. */
export async function findPerson(pressed: readonly [number, number]): Promise<void> {
  const { id, shot, frame, set } = useShot.getState(),
    clip = shot && clipWithRole(shot, 'performance');
  if (!shot || !clip || useIsolating.getState().state) return;
  await working('Starting the person finder', clip.frames, async (signal, tell) => {
    const pictures: File[] = [],
      { personFinder } = await import('../faces/finders');
    let done = 0;
    const found = await find({
      ...{
        clip,
        cut: squaresOf(clip, signal),
        finder: personFinder(),
        at: onClip(appearanceOf(shot, clip, frame), pressed),
        frame: clipFrame(shot, clip, frame),
        signal,
      },
      tell: () => tell('Finding the person', ++done),
    });
    if (signal.aborted) return;
    for (const one of found) pictures.push(await pictureOf(one, clip, `person.${String(one.frame + 1).padStart(5, '0')}.png`));
    const medium = await bring(pictures, (share) => tell('Keeping the mattes', Math.round(share * clip.frames)), signal),
      now = useShot.getState();
    // Another shot is looked at by now.
    if (now.id !== id || !now.shot?.clips[clip.id]) return;
    const before = now.shot.mattes;
    now.edit(
      keepPerson({
        name: 'Person',
        of: clip.id,
        height: personHeight(found),
        found: clipOf({
          id: 'found',
          file: `Person of ${clip.name}`,
          role: 'element',
          media: { hash: medium.hash },
          facts: { ...medium.info, frameRate: clip.rate },
          start: clip.start,
        }),
      }),
    );
    const matte = Object.keys(useShot.getState().shot!.mattes).find((one) => !before[one]),
      there = found.filter((one) => one.box).length;
    set({
      ...(matte ? { selection: { kind: 'matte', id: matte }, outline: null, matteView: 'overlay' as const } : {}),
      notice: `Found on ${there} of ${found.length} frames, as a proposal: a rough matte that is laid on the edges of the picture. Add what the person carries, look through all frames, and paint or outline what is off.`,
    });
  });
}
