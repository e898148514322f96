import type { Shot } from '@wraithos/core/shot';
import { frameCache } from '../state/frameCache';
import { display } from './display';
import { drawer } from './pool';
import type { WorkerAnswer } from './protocol';

/**
 * Lets anyone compare this browser's pixels with the server's: `wraithosCodes(document, frame)` in the console gives the frame's
 * 16-bit codes as SHA-256, the same figure that a rendered 16-bit PNG's pixels have. `wraithosShown` says which pictures were shown and when,
 * `wraithosDrawn` counts what was drawn, `wraithosMemory` says what is remembered.
 */
export function exposeForInspection(): void {
  const shown: { key: string; frame: number; width: number; at: number }[] = [];
  (window as unknown as Record<string, unknown>).wraithosShown = shown;
  (window as unknown as Record<string, unknown>).wraithosDrawn = () => frameCache.version;
  (window as unknown as Record<string, unknown>).wraithosMemory = async () => ({
    pictures: frameCache.bytesKept,
    ...(await drawer().memory()),
  });
  display().listen((answer) => {
    if (answer.kind !== 'shown') return;
    const { key, frame, width, time } = answer;
    shown.push({ key, frame, width, at: time - performance.timeOrigin });
    if (shown.length > 2000) shown.splice(0, 1000);
  });
  (window as unknown as Record<string, unknown>).wraithosCodes = async (shot: Shot, frame: number) => {
    const answer = (await drawer().ask({ kind: 'codes', shot, frame }, 1)) as Extract<WorkerAnswer, { kind: 'codes' }>;
    const digest = await crypto.subtle.digest('SHA-256', answer.codes.buffer as ArrayBuffer);
    return {
      width: answer.width,
      height: answer.height,
      sha256: [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join(''),
    };
  };
}
