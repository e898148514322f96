import { spawn, type ChildProcess, type SpawnOptions } from 'node:child_process';
import { existsSync } from 'node:fs';

/** What a program may use. */
export interface Confinement {
  /** Bytes of private memory. */
  memory?: number;
  /** Seconds of one core. */
  cpuSeconds?: number;
  /** Bytes of the largest file that it may write; 0 for a program that only writes to a pipe. */
  fileBytes?: number;
  /** How much it steps back for others that want a core, 0 to 19. */
  nice?: number;
}

const SETPRIV = '/usr/bin/setpriv',
  PRLIMIT = '/usr/bin/prlimit',
  NICE = '/usr/bin/nice',
  canTie = existsSync(SETPRIV),
  canLimit = existsSync(PRLIMIT),
  canStepBack = existsSync(NICE);

/**
 * The command that runs a program within limits and ends it when its parent ends, however that happens. Both helpers are part of
 * Debian's util-linux and replace themselves by the program, so that the process id is the program's own. Where they are missing (on
 * another system) the program runs without them.
 * @param end the signal that the program gets when its parent is gone.
 */
export function confined(program: string, args: readonly string[], limits: Confinement = {}, end = 'KILL'): [string, string[]] {
  const given = [
    limits.memory === undefined ? null : `--data=${limits.memory}`,
    limits.cpuSeconds === undefined ? null : `--cpu=${limits.cpuSeconds}`,
    limits.fileBytes === undefined ? null : `--fsize=${limits.fileBytes}`,
    '--core=0',
  ].filter((option) => option !== null);
  const stepBack = limits.nice !== undefined && canStepBack ? [NICE, '-n', String(limits.nice)] : [];
  const chain = [
    ...stepBack,
    ...(canTie ? [SETPRIV, '--pdeathsig', end, '--'] : []),
    ...(canLimit ? [PRLIMIT, ...given, '--'] : []),
    program,
    ...args,
  ];
  return [chain[0]!, chain.slice(1)];
}

/** Starts a program within limits, without a shell. */
export function spawnConfined(program: string, args: readonly string[], limits: Confinement, options: SpawnOptions): ChildProcess {
  const [command, rest] = confined(program, args, limits);
  return spawn(command, rest, options);
}
