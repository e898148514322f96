import type { Shot } from '@wraithos/core/shot';
import { workers } from './pool';
import type { WorkerAnswer } from './protocol';

/**
 * Lets anyone compare this browser's pixels with the server's: `wraithosCodes(document, frame)` in the console gives the frame's
 * 16-bit codes as SHA-256, the same figure that a rendered 16-bit PNG's pixels have.
 */
export function exposeForInspection(): void {
  (window as unknown as Record<string, unknown>).wraithosCodes = async (shot: Shot, frame: number) => {
    const answer = (await workers().ask({ kind: 'codes', shot, frame }, 1)) as Extract<WorkerAnswer, { kind: 'codes' }>;
    const digest = await crypto.subtle.digest('SHA-256', answer.codes.buffer as ArrayBuffer);
    return {
      width: answer.width,
      height: answer.height,
      sha256: [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join(''),
    };
  };
}
