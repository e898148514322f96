import type { Shot } from '@wraithos/core/shot';
import { drawer } from './pool';
import type { FoundMatte, WorkerAnswer } from './protocol';

/** Where these mattes are at a frame, and what they are worth at a place of the picture. */
export async function mattesAt(
  shot: Shot,
  frame: number,
  mattes: readonly string[],
  at: readonly [number, number] | null,
): Promise<FoundMatte[]> {
  if (!mattes.length) return [];
  const answer = (await drawer().ask({ kind: 'mattes', shot, frame, mattes, at }, 10)) as Extract<WorkerAnswer, { kind: 'mattes' }>;
  return answer.found;
}
