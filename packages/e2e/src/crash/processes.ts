import { readdir, readFile } from 'node:fs/promises';

export interface Process {
  pid: number;
  command: string;
}
/** Processes that were started with this data folder, by what they were given at their start. */
export async function processesOf(data: string): Promise<Process[]> {
  const found: Process[] = [];
  for (const name of await readdir('/proc')) {
    if (!/^\d+$/.test(name)) continue;
    const [environment, command] = await Promise.all(
      ['environ', 'cmdline'].map((file) => readFile(`/proc/${name}/${file}`, 'utf8').catch(() => '')),
    );
    if (environment!.split('\0').includes(`WRAITHOS_DATA=${data}`) && command)
      found.push({ pid: Number(name), command: command.replace(/\0/g, ' ').trim() });
  }
  return found;
}
