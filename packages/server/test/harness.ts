import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import request from 'supertest';
import { sendWhole } from '@wraithos/contract';
import { applyEdit, type Edit, type Shot } from '@wraithos/core/shot';
import { open, type Opened, type OpenOptions } from '../src/open';

export const later = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
export const optionsFor = (root: string, log: (error: unknown) => void = () => undefined): OpenOptions => ({
  root,
  port: 0,
  webFolder: null,
  workFile: join(process.cwd(), 'dist', 'server', 'work.mjs'),
  demoFolder: null,
  stockFolder: join(process.cwd(), 'packages', 'demo', 'media', 'stockroom'),
  log,
});
export interface OpenBody {
  document: Shot;
  revision: number;
  history: { name: string; kind: string }[];
}
export interface JobBody {
  id: string;
  state: string;
  message: string;
  done: number;
  result: { hash: string; note: string; file: string; info: { frames: number } } & Record<string, unknown>;
}

/** A server with the real MariaDB in a folder of its own, and what tests do with it. */
export class TestServer {
  app!: Opened;
  production = '';
  /** Errors that nobody foresaw; a test that causes none finds this empty. */
  readonly unexpected: unknown[] = [];
  private constructor(
    readonly root: string,
    private readonly more: Partial<OpenOptions>,
  ) {}
  static async start(more: Partial<OpenOptions> = {}, root?: string): Promise<TestServer> {
    const server = new TestServer(root ?? (await mkdtemp(join(tmpdir(), 'wraithos-server-'))), more);
    await server.open();
    server.production = (await server.api().post('/api/productions').send({ name: 'Harbour tests' }).expect(201)).body.id as string;
    return server;
  }
  async open(): Promise<void> {
    this.app = await open({ ...optionsFor(this.root, (error) => this.unexpected.push((error as Error).stack ?? error)), ...this.more });
  }
  async restart(): Promise<void> {
    await this.app.close();
    await this.open();
  }
  async end(): Promise<void> {
    await this.app?.close();
    await rm(this.root, { recursive: true, force: true });
  }
  get address(): string {
    return `http://127.0.0.1:${(this.app.server.address() as AddressInfo).port}`;
  }
  api() {
    return request(this.app.server);
  }
  get services() {
    return this.app.services;
  }

  async newShot(code: string, more: object = {}): Promise<string> {
    const { body } = await this.api()
      .post('/api/shots')
      .send({ production: this.production, code, frames: 6, width: 64, height: 36, ...more })
      .expect(201);
    return body.id as string;
  }
  async opened(id: string): Promise<OpenBody> {
    return (await this.api().get(`/api/shots/${id}`).expect(200)).body as OpenBody;
  }
  async save(id: string, edit: Edit, base?: number) {
    const now = await this.opened(id);
    return this.api()
      .post(`/api/shots/${id}/edits`)
      .send({ base: base ?? now.revision, edits: [changeOf(now.document, edit)] });
  }
  /** Waits for a job to be over. */
  async over(id: string): Promise<JobBody> {
    for (let i = 0; i < 900; i++) {
      const job = (await this.api().get(`/api/jobs/${id}`).expect(200)).body as JobBody;
      if (!['waiting', 'running'].includes(job.state)) return job;
      await later(50);
    }
    throw new Error('the job did not end');
  }
  async send(files: [string | Buffer, string][], path = '/media') {
    const whole = await Promise.all(
        files.map(async ([content, name]) => [typeof content === 'string' ? await readFile(content) : content, name] as const),
      ),
      answer = await sendWhole(this.address, whole, path);
    return { status: answer.status, body: (await answer.json()) as { id: string; detail: string } };
  }
  /** A film or picture in the store. */
  async medium(file: string | Buffer, name: string): Promise<string> {
    return (await this.over((await this.send([[file, name]])).body.id as string)).result.hash;
  }
}

export const changeOf = (document: Shot, edit: Edit) => {
  const { change } = applyEdit(document, edit);
  return { name: change.name, kind: 'do', patches: change.patches, inverse: change.inverse };
};
export const png = (value: number, width = 64, height = 36) =>
  sharp({ create: { width, height, channels: 3, background: { r: value, g: 90, b: 20 } } })
    .png()
    .toBuffer();
/** A film made by ffmpeg in `folder`. */
export function film(folder: string, args: string[], ending = 'mp4'): string {
  const path = join(folder, `film-${Math.round(performance.now() * 1000)}.${ending}`);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=64x36:rate=24', ...args, path]);
  return path;
}
