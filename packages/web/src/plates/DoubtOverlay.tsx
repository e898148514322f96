import { useEffect, useState } from 'react';
import { Image, Rect, Text } from 'react-konva';
import { addressOf, mediumFrame, readFrame } from '@wraithos/contract';
import { useDocument, useParts } from '../state/shotStore';
import { toScreen, type Space } from '../viewer/space';

/** Rust, in which what is doubtful is shown. */
const RUST = [229, 115, 92] as const;

/** The picture of what is unsure, as a canvas that the overlay can draw: the more unsure, the less can be seen through it. */
function useDoubt(hash: string | null): HTMLCanvasElement | null {
  const [canvas, setCanvas] = useState<HTMLCanvasElement | null>(null);
  useEffect(() => {
    setCanvas(null);
    if (!hash) return;
    const control = new AbortController();
    fetch(`/api${addressOf(mediumFrame, { hash, frame: '0' })}`, { signal: control.signal })
      .then((answer) => (answer.ok ? answer.arrayBuffer() : Promise.reject(new Error('gone'))))
      .then((bytes) => {
        const { width, height, channels, data } = readFrame(bytes),
          made = document.createElement('canvas');
        made.width = width;
        made.height = height;
        const context = made.getContext('2d')!,
          image = context.createImageData(width, height);
        for (let i = 0, p = 0; i < width * height; i++, p += 4) {
          image.data.set(RUST, p);
          image.data[p + 3] = Math.min(220, data[i * channels]! * 1.4);
        }
        context.putImageData(image, 0, 0);
        setCanvas(made);
      })
      .catch(() => undefined);
    return () => control.abort();
  }, [hash]);
  return canvas;
}

/** Where a built clean plate is unsure, over its picture. */
export function DoubtOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    { selection, doubt } = useParts('selection', 'doubt'),
    clip = selection?.kind === 'clip' ? shot.clips[selection.id] : undefined,
    made = doubt ? clip?.made : null,
    picture = useDoubt(made?.doubt?.hash ?? null);
  if (!made || !clip) return null;
  const kx = (shot.width / clip.width) * space.zoom,
    ky = (shot.height / clip.height) * space.zoom,
    [left, top] = toScreen(space, 0, 0);
  return (
    <>
      {picture && <Image image={picture} x={left} y={top} width={clip.width * kx} height={clip.height * ky} listening={false} />}
      {made.areas.map((area) => (
        <Rect
          key={`${area.x} ${area.y}`}
          x={left + area.x * kx}
          y={top + area.y * ky}
          width={area.width * kx}
          height={area.height * ky}
          stroke={`rgb(${RUST.join(',')})`}
          strokeWidth={1}
          dash={[4, 3]}
          listening={false}
        />
      ))}
      {made.areas.slice(0, 3).map((area) => (
        <Text
          key={`text ${area.x} ${area.y}`}
          x={left + area.x * kx}
          y={top + area.y * ky - 14}
          text={`${(100 * area.share).toFixed(2)} % unsure`}
          fontSize={11}
          fontFamily="IBM Plex Sans"
          fill="#ece8df"
          shadowColor="#000"
          shadowBlur={3}
          listening={false}
        />
      ))}
    </>
  );
}
