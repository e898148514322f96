import { useRef, type PointerEvent } from 'react';

/** Follows a pointer from press to release: `move` with the distance in pixels, `end` once; a press without a move is a click. */
export function useDrag(handlers: {
  start?(event: PointerEvent): void;
  move(dx: number, dy: number): void;
  end(dx: number, dy: number): void;
  click?(): void;
}) {
  const from = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  return {
    onPointerDown: (e: PointerEvent) => {
      if (e.button) return;
      e.stopPropagation();
      (e.currentTarget as Element).setPointerCapture(e.pointerId);
      from.current = { x: e.clientX, y: e.clientY, moved: false };
      handlers.start?.(e);
    },
    onPointerMove: (e: PointerEvent) => {
      const f = from.current;
      if (!f) return;
      if (!f.moved && Math.abs(e.clientX - f.x) + Math.abs(e.clientY - f.y) < 3) return;
      f.moved = true;
      handlers.move(e.clientX - f.x, e.clientY - f.y);
    },
    onPointerUp: (e: PointerEvent) => {
      const f = from.current;
      from.current = null;
      if (!f) return;
      if (f.moved) handlers.end(e.clientX - f.x, e.clientY - f.y);
      else handlers.click?.();
    },
  };
}
