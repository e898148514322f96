import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdir, readdir, stat, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { finished } from '@wraithos/demo';
import { remove, applyEdit, changeRow, type Shot } from '@wraithos/core/shot';
import { clickText, setField, until } from '../browser';
import { mediaOf, raw16, truthOf, type Job, type Opened, type Stage, type Summary } from '../stage';

/** The finished shot with its dissolve and its glow alone, and a haze that is muted. */
const plainer = (shot: Shot): Shot =>
  Object.values(shot.rows).reduce(
    (now, { id, effect }) =>
      effect === 'dissolve' || effect === 'glow'
        ? now
        : applyEdit(now, effect === 'displace' ? changeRow(id, { muted: true }) : remove('row', id)).shot,
    shot,
  );

/** Films and frames that come out. */
export function renderStories(stage: Stage): void {
  const render = async (shotId: string, format: string, first: number, last: number): Promise<Job> => {
    const { page } = stage;
    await page.goto(`${stage.app.base}/shots/${shotId}/render`);
    await page.waitForSelector('.render-page');
    await setField(page, 'Format', format);
    await setField(page, 'From frame', String(first));
    await setField(page, 'To frame', String(last));
    const known = new Set((await stage.app.get<Job[]>(`/jobs?shot=${shotId}`)).map((j) => j.id));
    await clickText(page, `Render ${last - first + 1} frames`);
    const job = await until('the job', async () => (await stage.app.get<Job[]>(`/jobs?shot=${shotId}`)).find((j) => !known.has(j.id)));
    return job;
  };
  stage.story(
    'a 16-bit sequence renders on the server, goes on after a crash, and its pixels are right',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010', 'TW_017', plainer),
        opened = () => stage.opened(shotId),
        truth = await truthOf<{ lantern: [number, number][] }>('TW_010'),
        over = (id: string, ms: number) => stage.over(id, ms);

      const job = await render(shotId, 'PNG sequence, 16 bit', 1030, 1096);
      const checks = await page.$eval('section[aria-label="New render"]', (el) => el.textContent);
      expect(checks).toContain('Displace is muted and will not be in the render.');
      await until('some frames', async () => (await stage.app.get<Job>(`/jobs/${job.id}`)).done >= 6, 120_000);
      await stage.app.end(true);
      const made = join(stage.app.data, 'renders', job.id),
        kept = new Map<string, number>();
      for (const name of (await readdir(made)).filter((n) => /^\d+\.png$/.test(n))) kept.set(name, (await stat(join(made, name))).mtimeMs);
      // The last file of each thread may not have been written yet.
      expect(kept.size).toBeGreaterThanOrEqual(3);
      expect(kept.size).toBeLessThan(67);
      await stage.app.launch();
      await over(job.id, 420_000);
      for (const [name, time] of kept) expect([name, (await stat(join(made, name))).mtimeMs]).toEqual([name, time]);
      await page.goto(`${stage.app.base}/shots/${shotId}/render`);
      await page.waitForSelector(`a[href="/api/jobs/${job.id}/file"]`);
      const files = unzipSync(new Uint8Array(await (await fetch(`${stage.app.base}/api/jobs/${job.id}/file`)).arrayBuffer())),
        frames = join(stage.folder, 'frames'),
        width = 1280;
      expect(Object.keys(files)).toHaveLength(67);
      await mkdir(frames);
      for (const [name, bytes] of Object.entries(files)) await writeFile(join(frames, basename(name)), bytes);
      const meta = await sharp(join(frames, '1096.png')).metadata();
      expect([meta.depth, meta.width, meta.height, meta.channels]).toEqual(['ushort', 1280, 720, 3]);

      const clean = new Uint8Array(
          await sharp(join(mediaOf('TW_010'), 'clean.png'))
            .removeAlpha()
            .raw()
            .toBuffer(),
        ),
        last = await raw16(join(frames, '1096.png')),
        middle = await raw16(join(frames, '1080.png')),
        lit = await raw16(join(frames, '1058.png'));
      // Where she stood, at the end: the clean plate, but for the flakes that still fly before it. Grain aside: means over 8 x 8 pixels.
      const apart: number[] = [];
      for (let by = 232; by < 640; by += 8)
        for (let bx = 548; bx < 628; bx += 8) {
          let difference = 0;
          for (let c = 0; c < 3; c++) {
            let d = 0;
            for (let y = by; y < by + 8; y++)
              for (let x = bx; x < bx + 8; x++) d += last[(y * width + x) * 3 + c]! / 257 - clean[(y * width + x) * 3 + c]!;
            difference += Math.abs(d / 64) / 3;
          }
          apart.push(difference);
        }
      apart.sort((a, b) => a - b);
      console.info(
        `last frame against the clean plate: median ${apart[apart.length >> 1]!.toFixed(2)} of 255, a third below ${apart[Math.floor(apart.length / 3)]!.toFixed(2)}`,
      );
      expect(apart[apart.length >> 1]).toBeLessThanOrEqual(2);
      // Flakes in the middle: the open sky right of her holds things that the clean plate does not.
      let flakes = 0;
      for (let y = 120; y < 330; y++)
        for (let x = 620; x < 900; x++) {
          const p = (y * width + x) * 3;
          if (Math.abs(middle[p]! / 257 - clean[p]!) > 25) flakes++;
        }
      console.info(`flakes over the sky in the middle frame: ${flakes} px`);
      expect(flakes).toBeGreaterThan(150);
      // The glow's middle: the same frame without it, from the same server, shows what it added.
      const shot = (await opened()).document,
        bare = structuredClone(shot),
        glow = Object.values(bare.rows).find((r) => r.name === 'Glow')!;
      bare.rows[glow.id]!.muted = true;
      const without = await stage.app.send<Summary>('POST', `/shots/${shotId}/versions`, { name: 'without the glow', document: bare });
      const plain = await stage.app.send<Job>('POST', '/jobs', { shot: without.body.id, format: 'png16', first: 1058, last: 1058 });
      await over(plain.body.id, 120_000);
      const off = await raw16(join(stage.app.data, 'renders', plain.body.id, '1058.png'));
      let mass = 0,
        mx = 0,
        my = 0;
      const [lx, ly] = truth.lantern[57]!;
      // Away from the lantern itself, where screening hides what is added; a ring is as good for the middle.
      for (let y = Math.round(ly) - 100; y < ly + 100; y++)
        for (let x = Math.round(lx) - 100; x < lx + 100; x++) {
          const d = Math.hypot(x + 0.5 - lx, y + 0.5 - ly),
            p = (y * width + x) * 3 + 2;
          if (d < 60 || d > 90 || y > 372) continue;
          // Screening adds light x (1 - what is there): undone, what is left is the glow alone.
          const linear = (v: number) => {
            const e = v / 65535;
            return e <= 0.04045 ? e / 12.92 : ((e + 0.055) / 1.055) ** 2.4;
          };
          const base = linear(off[p - 2]!),
            added = (linear(lit[p - 2]!) - base) / (1 - base);
          mass += added;
          mx += added * (x + 0.5 - lx);
          my += added * (y + 0.5 - ly);
        }
      expect(mass).toBeGreaterThan(1);
      console.info(`the glow's middle lies ${(mx / mass).toFixed(2)}, ${(my / mass).toFixed(2)} px from the lantern`);
      expect(Math.hypot(mx / mass, my / mass)).toBeLessThan(1);
    },
    700000,
  );
  stage.story(
    'a WebM renders, plays in the page and can be downloaded; a render can be cancelled',
    async () => {
      const { page } = stage;
      const shotId = await stage.shotFrom('TW_010', 'TW_018', plainer),
        over = (id: string, ms: number) => stage.over(id, ms);

      const job = await render(shotId, 'WebM video (VP9)', 1030, 1045);
      await over(job.id, 240_000);
      const entry = await until('the entry', () => page.$(`article[aria-label="${job.title}"]`));
      // Until the page knows that it is over, the first button is Cancel.
      await clickText(page, 'Play', `article[aria-label="${job.title}"]`);
      const video = (await entry.waitForSelector('video'))!;
      await until('the film to play', () =>
        video.evaluate((v) => {
          const film = v as HTMLVideoElement;
          return film.currentTime > 0.2 && film.videoWidth === 1280;
        }),
      );
      const other = await render(shotId, 'PNG sequence, 8 bit', 1001, 1096);
      await until('it to run', async () => (await stage.app.get<Job>(`/jobs/${other.id}`)).state === 'running');
      await clickText(page, 'Cancel', `article[aria-label="${other.title}"]`);
      await until('the end', async () => (await stage.app.get<Job>(`/jobs/${other.id}`)).state === 'cancelled', 60_000);
    },
    400000,
  );
  stage.story(
    'the same pixels from a browser worker, the server and the command line, on TW_010 finished',
    async () => {
      const { page } = stage;
      const over = (id: string, ms: number) => stage.over(id, ms);
      await page.goto(stage.app.base);
      await page.waitForSelector('article');

      const demo = (await stage.app.get<Summary[]>('/shots')).find((s) => s.code === 'TW_010')!,
        { document } = await stage.app.get<Opened>(`/shots/${demo.id}`),
        frame = 1078;
      const inBrowser = await page.evaluate(
        (shot, f) => (window as unknown as { wraithosCodes(s: unknown, f: number): Promise<{ sha256: string }> }).wraithosCodes(shot, f),
        document as never,
        frame,
      );
      const job = await stage.app.send<Job>('POST', '/jobs', { shot: demo.id, format: 'png16', first: frame, last: frame });
      await over(job.body.id, 120_000);
      // The command line reads the same document with media by path.
      const local = finished(
        {
          performance: { path: join(mediaOf('TW_010'), 'performance.mp4') },
          clean: { path: join(mediaOf('TW_010'), 'clean.png') },
          occluder: { path: join(mediaOf('TW_010'), 'occluder.png') },
          reference: { path: join(mediaOf('TW_010'), 'reference.mp4') },
        },
        { pin: join(mediaOf('TW_010'), 'track-pin.json'), lantern: join(mediaOf('TW_010'), 'track-lantern.json') },
      );
      await writeFile(join(stage.folder, 'tw010.json'), JSON.stringify(local));
      execFileSync(
        process.execPath,
        [
          'scripts/wraith.mjs',
          'render',
          join(stage.folder, 'tw010.json'),
          '--frames',
          String(frame),
          '--format',
          'png16',
          '--out',
          join(stage.folder, 'cli'),
        ],
        { env: { ...process.env, WRAITH_CACHE: join(stage.folder, 'cache') } },
      );
      const digest = async (path: string) => {
        const codes = await raw16(path);
        return createHash('sha256')
          .update(new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength))
          .digest('hex');
      };
      const onServer = await digest(join(stage.app.data, 'renders', job.body.id, `${frame}.png`));
      expect(await digest(join(stage.folder, 'cli', `${frame}.png`))).toBe(onServer);
      expect(inBrowser.sha256).toBe(onServer);
    },
    240000,
  );

  stage.story(
    'a MOV with alpha and a contact sheet are rendered on the page, downloaded, and read back by another program',
    async () => {
      const { page } = stage,
        // The fox on nothing: its painting stays out.
        id = await stage.shotFrom('TW_030', 'TW_033', (shot) => ({
          ...shot,
          rows: {},
          base: { ...shot.base, ground: { ...shot.base.ground, values: { ...shot.base.ground.values, ground: 'nothing' } } },
        })),
        { colours, nose } = await truthOf<{ colours: Record<string, unknown>; nose: [number, number][] }>('TW_030'),
        download = async (job: Job, name: string): Promise<string> => {
          await stage.over(job.id, 120_000);
          await page.waitForSelector(`a[href="/api/jobs/${job.id}/file"]`);
          const path = join(stage.folder, name);
          await writeFile(path, Buffer.from(await (await fetch(`${stage.app.base}/api/jobs/${job.id}/file`)).arrayBuffer()));
          return path;
        };
      expect(Object.keys(colours).length).toBeGreaterThan(0);
      await page.goto(`${stage.app.base}/shots/${id}/render`);
      await page.waitForSelector('.render-page');
      await setField(page, 'Format', 'MOV video (ProRes 4444)');
      await setField(page, 'Alpha', 'straight');
      await setField(page, 'From frame', '1058');
      await setField(page, 'To frame', '1059');
      await clickText(page, 'Render 2 frames');
      const film = await download(await until('the job', async () => (await stage.app.get<Job[]>(`/jobs?shot=${id}`))[0]), 'fox.mov'),
        out = execFileSync('ffmpeg', ['-v', 'error', '-i', film, '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'], {
          maxBuffer: 2 ** 26,
        }),
        alpha = (x: number, y: number) => out[(Math.round(y) * 1280 + Math.round(x)) * 4 + 3]!,
        [nx, ny] = nose[57]!;
      expect(out.length).toBe(1280 * 720 * 4);
      expect(alpha(20, 20)).toBe(0);
      expect(alpha(nx - 14, ny)).toBeGreaterThan(250);
      await setField(page, 'Format', 'Contact sheet (PNG)');
      await setField(page, 'From frame', '1001');
      await setField(page, 'To frame', '1060');
      await page.click('#field-frame-burnt-in');
      await clickText(page, 'Render 12 frames');
      const job = await until('the sheet', async () =>
        (await stage.app.get<Job[]>(`/jobs?shot=${id}`)).find((j) => j.title.includes('sheet')),
      );
      expect(job.title).toContain('frame burnt in');
      const sheet = await sharp(await download(job, 'sheet.png')).metadata();
      expect([sheet.width, sheet.height]).toEqual([8 + 4 * 488, 8 + 3 * (270 + 38)]);
    },
    180_000,
  );
}
