import { useEffect, useRef } from 'react';
import type { Thumb } from '../workers/protocol';

/** A small picture, as tall as its canvas, its middle where it is wider. */
export function ThumbCanvas({ thumb, width, height }: { thumb: Thumb | undefined; width: number; height: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = canvas.current;
    if (!c || !thumb) return;
    const full = document.createElement('canvas');
    full.width = thumb.width;
    full.height = thumb.height;
    full.getContext('2d')!.putImageData(new ImageData(thumb.pixels, thumb.width, thumb.height), 0, 0);
    const share = Math.min(1, (width / height) * (thumb.height / thumb.width)),
      w = thumb.width * share,
      to = c.getContext('2d')!;
    to.imageSmoothingQuality = 'high';
    to.drawImage(full, (thumb.width - w) / 2, 0, w, thumb.height, 0, 0, c.width, c.height);
  }, [thumb, width, height]);
  return <canvas ref={canvas} width={width} height={height} />;
}
