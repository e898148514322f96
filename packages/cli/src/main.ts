import { helpOf, parse, UsageError, type Verb } from './command';
import { backup } from './verbs/backup';
import { check } from './verbs/check';
import { ground } from './verbs/ground';
import { matte } from './verbs/matte';
import { newShot } from './verbs/newShot';
import { plate } from './verbs/plate';
import { probe } from './verbs/probe';
import { render } from './verbs/render';
import { restore } from './verbs/restore';
import { track } from './verbs/track';

const verbs: Verb[] = [newShot, probe, track, ground, matte, plate, render, check, backup, restore];
const help = (): string =>
  `wraith: shots from the command line\n\n${verbs.map((v) => `  wraith ${v.name} ${v.usage}\n      ${v.about}`).join('\n')}\n\nEach verb explains its options: wraith <verb> --help. Results go to stdout as JSON, progress to stderr.\nExit codes: 0 done, 1 the work failed, 2 the command was not understood.\n`;

/** Runs one command. @returns the exit code. */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  if (!name || name === '--help' || name === '-h' || name === 'help') {
    process.stdout.write(help());
    return name ? 0 : 2;
  }
  const verb = verbs.find((v) => v.name === name);
  try {
    if (!verb) throw new UsageError(`There is no verb "${name}". See wraith --help.`);
    const given = parse(verb, rest);
    if (given.values.help) {
      process.stdout.write(helpOf(verb));
      return 0;
    }
    process.stdout.write(`${JSON.stringify(await verb.run(given))}\n`);
    return 0;
  } catch (error) {
    process.stderr.write(`wraith: ${(error as Error).message.split('\n')[0]}\n`);
    return error instanceof UsageError ? 2 : 1;
  }
}

process.exitCode = await main(process.argv.slice(2));
