import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { sendWhole } from '@wraithos/contract';
import type { Application } from '../application';

/** An edit that the server said it has. */
export interface Acknowledged {
  shot: string;
  revision: number;
  cue: string;
}
/** What people did, as far as the server answered. */
export interface Done {
  edits: Acknowledged[];
  jobs: Set<string>;
  media: Set<string>;
  backups: number;
  cutOff: number;
}
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * People at work until they are told to stop: writers who edit, one who brings clips in, one who renders, one who makes backups and brings bundles
 * in. Whatever they are not told is done counts for nothing; what they are told must be there for good.
 */
export class Hands {
  readonly done: Done = { edits: [], jobs: new Set(), media: new Set(), backups: 0, cutOff: 0 };
  private working = true;
  private readonly all: Promise<void>[];
  constructor(
    private readonly app: Application,
    private readonly shots: readonly string[],
  ) {
    this.all = [
      ...shots.map((shot) => this.untilStopped(() => this.edit(shot))),
      this.untilStopped(() => this.bring()),
      this.untilStopped(() => this.render()),
      this.untilStopped(() => this.carry()),
    ];
  }
  async stop(): Promise<void> {
    this.working = false;
    await Promise.all(this.all);
  }
  private async untilStopped(work: () => Promise<void>): Promise<void> {
    while (this.working) {
      try {
        await work();
      } catch {
        // The line broke, or the server said that it is starting: they try again.
        this.done.cutOff++;
        await pause(60);
      }
    }
  }

  private async edit(shot: string): Promise<void> {
    const opened = await this.app.send<{ revision: number }>('GET', `/shots/${shot}`);
    if (opened.status !== 200) throw new Error('not now');
    let { revision } = opened.body;
    for (let i = 0; i < 8 && this.working; i++) {
      const id = `c${randomUUID().slice(0, 12)}`,
        patches = [{ op: 'add', path: ['cues', id], value: { id, name: id, frame: 1003, clip: null } }],
        edit = { name: 'Add cue', kind: 'do', patches, inverse: [{ op: 'remove', path: ['cues', id] }] };
      const answer = await this.app.send<{ revision: number }>('POST', `/shots/${shot}/edits`, { base: revision, edits: [edit] });
      if (answer.status !== 200) throw new Error('not now');
      ({ revision } = answer.body);
      this.done.edits.push({ shot, revision, cue: id });
      await pause(10);
    }
  }
  private async bring(): Promise<void> {
    const files: [Uint8Array, string][] = [];
    for (let i = 0; i < 4; i++) {
      const picture = await sharp({
        create: { width: 160, height: 90, channels: 3, background: { r: Math.floor(Math.random() * 256), g: i * 40, b: 20 } },
      })
        .png()
        .toBuffer();
      files.push([picture, `net${i}.png`]);
    }
    const response = await sendWhole(this.app.base, files, '/media');
    if (response.status !== 202) throw new Error('not now');
    this.done.jobs.add(((await response.json()) as { id: string }).id);
    await pause(150);
  }
  private async render(): Promise<void> {
    const shot = this.shots[Math.floor(Math.random() * this.shots.length)]!,
      answer = await this.app.send<{ id: string }>('POST', '/jobs', { shot, format: Math.random() < 0.5 ? 'webm' : 'png' });
    if (answer.status !== 202) throw new Error('not now');
    this.done.jobs.add(answer.body.id);
    await pause(700);
  }
  private async carry(): Promise<void> {
    const response = await fetch(`${this.app.base}/api/shots/${this.shots[0]}/bundle`);
    if (!response.ok) throw new Error('not now');
    const bundle = new Uint8Array(await response.arrayBuffer());
    this.done.backups++;
    const sent = await sendWhole(this.app.base, [[bundle, 'bundle.zip']], '/bundles');
    if (sent.status !== 202) throw new Error('not now');
    this.done.jobs.add(((await sent.json()) as { id: string }).id);
    await pause(2500);
  }
}
