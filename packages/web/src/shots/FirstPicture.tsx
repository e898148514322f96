import { useMemo } from 'react';
import { addClip, applyEdit, clipOf, newShot } from '@wraithos/core/shot';
import type { Imported } from '@wraithos/contract';
import { LivePicture } from '../recipes/LivePicture';

/** The first picture of what is coming in, drawn as its shot would draw it, while the rest is still on its way. */
export function FirstPicture({ medium, width }: { medium: Imported; width: number }) {
  const { info, hash, name } = medium,
    shot = useMemo(() => {
      const empty = newShot({
          code: 'coming',
          title: '',
          width: info.width,
          height: info.height,
          rate: info.frameRate,
          first: 0,
          frames: 1,
        }),
        clip = clipOf({ id: 'c1', file: name, role: 'performance', media: { hash }, facts: { ...info, frames: 1 }, start: 0 });
      return applyEdit(empty, addClip(clip, 'c1')).shot;
    }, [info, hash, name]);
  return (
    <figure className="first-picture" aria-label={`First picture of ${name}`}>
      <LivePicture shot={shot} frame={0} about={null} width={width} height={Math.round((width * info.height) / info.width)} />
    </figure>
  );
}
