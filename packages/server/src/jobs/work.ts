import { unpack, type UnpackTask } from '../archive/unpack';
import { Explained, isDiskTrouble } from '@wraithos/runtime';
import { bringIn, type BringInTask } from './bringIn';
import { buildPlateTask, type PlateTask } from './buildPlate';
import { drawFrames, type DrawTask } from './drawFrames';
import type { WorkMessage } from './workProcess';

/** What a work process can be asked to do. */
export type WorkTask = DrawTask | BringInTask | PlateTask | UnpackTask;

/*
 * The program of a work process: it does one task after another and tells the server how far it is. It computes and reads files; the
 * database is the server's alone. Whatever goes wrong in here, or takes too long, ends with this process and not with the server.
 */
process.umask(0o077);
const tell = (message: WorkMessage) => process.send?.(message);
process.on('disconnect', () => process.exit(0));
process.on('message', (task: WorkTask) => {
  const progress = (value: unknown) => tell({ kind: 'progress', value });
  const work = (): Promise<unknown> => {
    switch (task.kind) {
      case 'draw':
        return drawFrames(task, progress);
      case 'bring in':
        return bringIn(task, progress);
      case 'plate':
        return buildPlateTask(task, progress);
      case 'unpack':
        return unpack(task, progress);
    }
  };
  work().then(
    (value) => tell({ kind: 'done', value }),
    (error: Error & { code?: string }) =>
      tell({
        kind: 'failed',
        message: error.message,
        explained: error instanceof Explained,
        code: isDiskTrouble(error) ? 'ENOSPC' : error.code,
        stack: error.stack,
      }),
  );
});
