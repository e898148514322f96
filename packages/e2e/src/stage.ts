import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Page } from 'puppeteer-core';
import type { TrackSample } from '@wraithos/core/motion';
import type { Shot } from '@wraithos/core/shot';
import { Application } from './application';
import { doings, hands, openBrowser, openRequests, until, watch } from './browser';

export interface Summary {
  id: string;
  code: string;
  revision: number;
}
export interface Opened {
  document: Shot;
  revision: number;
  history: { name: string }[];
}
export interface Job {
  id: string;
  state: string;
  done: number;
  total: number;
  message: string;
  title: string;
  result: { file: string } | null;
}

/** Errors of a page that are part of a story in which the line is cut. */
const CUT = /ERR_INTERNET_DISCONNECTED|ERR_CONNECTION|ERR_INCOMPLETE_CHUNKED|ERR_NETWORK|Failed to load resource/;

/**
 * One application, one browser and one page for the stories of a file. Each story is a test of its own on a shot of its own: when one fails, the others
 * still say what they have to say.
 */
export class Stage {
  app!: Application;
  page!: Page;
  browser!: Awaited<ReturnType<typeof openBrowser>>['browser'];
  /** A folder for files of the stories. */
  folder = '';
  private troubles: string[] = [];
  private waiting: () => string[] = () => [];
  private close: () => Promise<void> = () => Promise.resolve();

  constructor() {
    beforeAll(async () => {
      this.folder = await mkdtemp(join(tmpdir(), 'wraithos-stories-'));
      this.app = await Application.start();
      ({ browser: this.browser, close: this.close } = await openBrowser());
      await until('the demo', async () => (await this.shots()).length >= 7, 300_000);
      this.page = await this.browser.newPage();
      this.troubles = watch(this.page);
      // A page that asks whether to leave would wait for ever.
      this.page.on('dialog', (dialog) => void dialog.accept().catch(() => undefined));
      this.waiting = openRequests(this.page);
    }, 400_000);
    afterAll(async () => {
      await this.close();
      await this.app?.close();
      if (this.folder) await rm(this.folder, { recursive: true, force: true });
    }, 60_000);
  }
  shots(): Promise<Summary[]> {
    return this.app.get<Summary[]>('/shots');
  }
  async named(code: string): Promise<Summary> {
    return until(`the shot ${code}`, async () => (await this.shots()).find((s) => s.code === code));
  }
  opened(id: string): Promise<Opened> {
    return this.app.get<Opened>(`/shots/${id}`);
  }
  /** A shot of its own, made from a document of the demo. */
  async shotFrom(code: string, name: string, change: (shot: Shot) => Shot = (shot) => shot): Promise<string> {
    const { id } = await this.named(code),
      { document } = await this.opened(id),
      made = await this.app.send<Summary>('POST', `/shots/${id}/versions`, { name, document: change(structuredClone(document)) });
    expect(made.status).toBe(201);
    return made.body.id;
  }
  async samples(id: string, track: string): Promise<TrackSample[]> {
    const found = Object.values((await this.opened(id)).document.tracks).find((t) => t.name === track)!;
    return this.app.get<TrackSample[]>(`/samples/${found.samples}`);
  }
  /** Waits for a job to be done. */
  over(id: string, ms: number): Promise<Job> {
    return until(
      'the render',
      async () => {
        const job = await this.app.get<Job>(`/jobs/${id}`);
        if (job.state === 'failed') throw new Error(job.message);
        return job.state === 'done' && job;
      },
      ms,
    ) as Promise<Job>;
  }

  /**
   * A test. Where it fails, its page is kept as a picture in dist/tests. No page may write an error, but for lines that a story cuts.
   * @param counts the film that it makes: its hand actions are written down for `npm run hands`.
   */
  story(name: string, work: () => Promise<void>, milliseconds: number, counts?: string): void {
    test(
      name,
      async () => {
        const begun = Date.now();
        hands.begin();
        let timer: ReturnType<typeof setTimeout> | undefined;
        const late = new Promise<never>((_, reject) => {
          timer = setTimeout(() => reject(new Error(`took longer than ${milliseconds / 1000} s`)), milliseconds);
        });
        try {
          await Promise.race([work(), late]);
        } catch (error) {
          process.stderr.write(
            `FAILED ${name}: ${(error as Error).stack ?? String(error)}\nat: ${this.page.url()}\ndone last:\n  ${doings.join('\n  ')}\nopen requests: ${this.waiting().join(', ') || 'none'}\n`,
          );
          await mkdir(join('dist', 'tests'), { recursive: true });
          await this.page
            .screenshot({
              path: join(
                'dist',
                'tests',
                `failed ${name
                  .replace(/[^\w]+/g, ' ')
                  .slice(0, 60)
                  .trim()}.png`,
              ) as `${string}.png`,
            })
            .catch(() => undefined);
          // A story that holds requests back holds them no longer: the next ones have the same page.
          await this.page.setRequestInterception(false).catch(() => undefined);
          throw error;
        } finally {
          clearTimeout(timer);
        }
        if (counts) {
          const into = join('dist', 'tests', 'hands');
          await mkdir(into, { recursive: true });
          await writeFile(join(into, `${counts}.json`), JSON.stringify({ film: counts, ...hands.count }));
        }
        process.stderr.write(`story: ${name}, ${((Date.now() - begun) / 1000).toFixed(1)} s\n`);
        const own = this.troubles.splice(0).filter((text) => !CUT.test(text));
        expect(own).toEqual([]);
      },
      milliseconds + 10_000,
    );
  }
}

/** 16-bit codes of a picture file, three channels. */
export async function raw16(path: string): Promise<Uint16Array> {
  const { data } = await sharp(path).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
  return new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2);
}
/** The demo's media of a shot, and the truth that they were drawn from. */
export const mediaOf = (code: string): string => join(process.cwd(), 'packages', 'demo', 'media', code);
export const truthOf = async <T>(code: string): Promise<T> => JSON.parse(await readFile(join(mediaOf(code), 'truth.json'), 'utf8')) as T;
