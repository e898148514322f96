import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { sendWhole } from '@wraithos/contract';
import type { Shot } from '@wraithos/core/shot';
import { Application } from '../application';
import { Hands, type Acknowledged } from './hands';
import { processesOf } from './processes';
import { verifyFolder, verifyShots } from './verify';

export interface CrashReport {
  rounds: number;
  kills: Record<string, number>;
  edits: number;
  jobs: number;
  jobStates: Record<string, number>;
  /** What jobs said that did not end well. */
  said: string[];
  backups: number;
  /** Everything that was wrong; empty where the promise holds. */
  wrong: string[];
  /** Milliseconds until the server answered again: the middle one and the longest. */
  back: { p50: number; most: number };
}
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const targets = ['server', 'database', 'both', 'worker'] as const;

/** Numbers between 0 and 1 from a seed: the same rounds again. */
export function random(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
}
const kill = (pid: number | undefined) => {
  try {
    if (pid) process.kill(pid, 'SIGKILL');
  } catch {
    /* it ended meanwhile */
  }
};

/**
 * Lets people work and ends parts of the program at random moments, as a crash does (SIGKILL); after each, looks whether all that was
 * acknowledged is there, and nothing by half. At the end all jobs must be over, and rows and files agree.
 */
export async function crash(rounds: number, seed: number, say: (line: string) => void = () => undefined): Promise<CrashReport> {
  const next = random(seed),
    app = await Application.start({ WRAITHOS_DEMO: 'none', LOG_LEVEL: 'silent' }),
    report: CrashReport = {
      rounds: 0,
      kills: {},
      edits: 0,
      jobs: 0,
      jobStates: {},
      said: [],
      backups: 0,
      wrong: [],
      back: { p50: 0, most: 0 },
    },
    back: number[] = [];
  try {
    const production = (await app.send<{ id: string }>('POST', '/productions', { name: 'Crash' })).body.id,
      first = new Map<string, Shot>(),
      shots: string[] = [];
    const medium = await bring(app);
    for (let i = 0; i < 6; i++) {
      const { id } = (await app.send<{ id: string }>('POST', '/shots', { production, code: `CR_${i}`, medium })).body;
      shots.push(id);
      first.set(id, (await app.get<{ document: Shot }>(`/shots/${id}`)).document);
    }
    const edits: Acknowledged[] = [],
      jobs = new Set<string>();
    for (let round = 0; round < rounds; round++) {
      const hands = new Hands(app, shots),
        target = targets[Math.floor(next() * targets.length)]!;
      await pause(200 + next() * 1300);
      const database = Number((await readFile(join(app.data, 'mariadb', 'm.pid'), 'utf8').catch(() => '')).trim()) || undefined;
      const begun = Date.now();
      if (target === 'worker') for (const { pid, command } of await processesOf(app.data)) if (/work\.mjs|ffmpeg/.test(command)) kill(pid);
      if (target === 'database' || target === 'both') kill(database);
      if (target === 'server' || target === 'both') {
        await app.end(true);
        // Whatever the server had started ends with it.
        await pause(400);
        for (const { command } of await processesOf(app.data))
          if (!/mariadbd/.test(command)) report.wrong.push(`round ${round}: left running: ${command.slice(0, 80)}`);
        await app.launch();
      }
      await healthy(app);
      back.push(Date.now() - begun);
      await pause(200);
      await hands.stop();
      edits.push(...hands.done.edits);
      for (const id of hands.done.jobs) jobs.add(id);
      report.backups += hands.done.backups;
      report.kills[target] = (report.kills[target] ?? 0) + 1;
      report.rounds++;
      for (const wrong of await verifyShots(app, shots, first, round % 10 === 9 ? edits : hands.done.edits))
        report.wrong.push(`round ${round} (${target}): ${wrong}`);
      say(
        `round ${round + 1} of ${rounds}: ${target}, up again in ${back.at(-1)} ms, ${edits.length} edits, ${jobs.size} jobs, ${report.wrong.length} wrong`,
      );
    }
    const states = await allOver(app, jobs);
    for (const state of states.values()) report.jobStates[state] = (report.jobStates[state] ?? 0) + 1;
    for (const [id, state] of states) {
      if (state === 'done') continue;
      const { message } = await app.get<{ message: string }>(`/jobs/${id}`);
      report.said.push(`${state}: ${message}`);
      // Nothing is wrong with what they were asked for: they go on until they are done, or wait for a person.
      if (state !== 'parked') report.wrong.push(`job ${id} is ${state}: ${message}`);
    }
    report.wrong.push(...(await verifyShots(app, shots, first, edits)), ...(await verifyFolder(app)));
    Object.assign(report, { edits: edits.length, jobs: jobs.size });
    back.sort((a, b) => a - b);
    report.back = { p50: back[back.length >> 1] ?? 0, most: back.at(-1) ?? 0 };
    return report;
  } finally {
    await app.close();
  }
}

async function bring(app: Application): Promise<string> {
  const { default: sharp } = await import('sharp'),
    picture = await sharp({ create: { width: 320, height: 180, channels: 3, background: '#204060' } })
      .png()
      .toBuffer(),
    files: [Uint8Array, string][] = [];
  for (let i = 0; i < 12; i++) files.push([picture, `quay${i}.png`]);
  const job = (await (await sendWhole(app.base, files, '/media')).json()) as { id: string };
  for (;;) {
    const now = await app.get<{ state: string; result: { hash: string } | null }>(`/jobs/${job.id}`);
    if (now.result) return now.result.hash;
    await pause(50);
  }
}
async function healthy(app: Application): Promise<void> {
  for (const end = Date.now() + 60_000; ;) {
    const answer = await fetch(`${app.base}/api/health`).catch(() => null);
    if (answer?.status === 200) return;
    if (Date.now() > end) throw new Error(`the server is not well after a minute: ${answer ? await answer.text() : 'no answer'}`);
    await pause(20);
  }
}
/** The states of jobs when none is under way any more. */
async function allOver(app: Application, ids: ReadonlySet<string>): Promise<Map<string, string>> {
  const states = new Map<string, string>();
  for (const end = Date.now() + 180_000; ;) {
    for (const id of ids) {
      if (states.has(id) && !['waiting', 'running'].includes(states.get(id)!)) continue;
      states.set(id, (await app.get<{ state?: string }>(`/jobs/${id}`)).state ?? 'lost');
    }
    if ([...states.values()].every((state) => state !== 'waiting' && state !== 'running') || Date.now() > end) return states;
    await pause(300);
  }
}
