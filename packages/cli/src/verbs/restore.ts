import { sendBundle, takenOver } from '@wraithos/contract';
import { stat } from 'node:fs/promises';
import { pathOf, progressEnd, UsageError, type Verb } from '../command';
import { dataFolder, Server } from '../server';
import { verify } from './backup';

export const restore: Verb = {
  name: 'restore',
  usage: '<archive> [--data DIR]',
  about: 'Brings an archive into a running server. What is there stays as it is; a shot that was changed since comes in beside it (JSON).',
  options: {
    data: { type: 'string', value: 'DIR', about: 'Data folder of the server.', usual: 'WRAITHOS_DATA, or .data beside the program' },
  },
  positionals: [1, 1],
  async run({ positionals, values }) {
    const path = pathOf(positionals[0]!);
    if (!(await stat(path).catch(() => null))?.isFile()) throw new UsageError(`There is no file "${positionals[0]}".`);
    await verify(path).catch((error: Error) => {
      throw new Error(
        /archive/.test(error.message) ? error.message : 'This is not an archive of Wraithos, or it is damaged. Nothing was taken over.',
      );
    });
    const taken = await (await Server.of(dataFolder(values.data as string | undefined))).upload(sendBundle, takenOver, path);
    progressEnd();
    return taken;
  },
};
