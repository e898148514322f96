/** An error that was expected and says in plain words what happened. Its message may be shown as it is; that of any other error may not. */
export class Explained extends Error {}

/** Codes by which the system says that a disk is full, or cannot be written. */
const DISK_CODES = new Set(['ENOSPC', 'EDQUOT', 'EROFS']);

/** True where an error, or one that it was caused by, says that the disk is full or cannot be written. */
export function isDiskTrouble(error: unknown): boolean {
  for (let e = error as { code?: unknown; cause?: unknown } | null | undefined, depth = 0; e && depth < 5; depth++) {
    if (typeof e.code === 'string' && DISK_CODES.has(e.code)) return true;
    e = e.cause as typeof e;
  }
  return false;
}
