import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { addRow, plainReading, type Edit } from '@wraithos/core/shot';
import { later, png, TestServer } from '../test/harness';
import { Job } from './database/entities';
import { residentBytes, WorkBroke, WorkProcess, WorkProcesses } from './jobs/workProcess';

const GIB = 2 ** 30;

describe('a work process', () => {
  let folder: string, file: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'wraithos-work-'));
    file = join(folder, 'work.mjs');
    // Does what a task says: the ways in which real work goes wrong.
    await writeFile(
      file,
      `import { spawn } from 'node:child_process';
       const kept = [];
       process.on('message', (task) => {
         if (task.do === 'spin') { spawn('sleep', ['100']); for (;;); }
         if (task.do === 'eat') setInterval(() => kept.push(Buffer.alloc(64 * 2 ** 20, 1)), 5);
         if (task.do === 'die') process.kill(process.pid, 'SIGSEGV');
         if (task.do === 'sleep') setTimeout(() => {}, 1e6);
         if (task.do === 'answer') process.send({ kind: 'done', value: [process.pid, task.value] });
         if (task.do === 'say no') process.send({ kind: 'failed', message: 'no', explained: true });
       });`,
    );
  });
  afterAll(() => rm(folder, { recursive: true, force: true }));
  const wide = { memory: 4 * GIB, stall: 60_000 };

  test('is ended at once when its work is cancelled, whatever it does, with what it started', async () => {
    const worker = new WorkProcess(file),
      control = new AbortController(),
      work = worker.run({ do: 'spin' }, wide, () => undefined, control.signal);
    await later(400);
    const begun = Date.now();
    control.abort(new Error('cancelled'));
    await expect(work).rejects.toThrow('cancelled');
    await worker.kill();
    expect(Date.now() - begun).toBeLessThan(2000);
    expect(worker.alive).toBe(false);
  });
  test('is ended when it takes too much memory, stands still, or dies, and says which', async () => {
    const run = (task: object, limits: { memory: number; stall: number }) => new WorkProcess(file).run(task, limits, () => undefined);
    await expect(run({ do: 'eat' }, { memory: 0.4 * GIB, stall: 60_000 })).rejects.toThrow(
      new WorkBroke('it needed more than 0.4 GiB of memory'),
    );
    await expect(run({ do: 'sleep' }, { memory: GIB, stall: 1000 })).rejects.toThrow(new WorkBroke('nothing moved for 1 s'));
    await expect(run({ do: 'die' }, wide)).rejects.toThrow(new WorkBroke('its process ended'));
  }, 30_000);
  test('is used again while all goes well, and replaced when it broke; tasks wait for their turn', async () => {
    const pool = new WorkProcesses(file, 1);
    try {
      const answers = await Promise.all([1, 2, 3].map((value) => pool.run<[number, number]>({ do: 'answer', value }, wide)));
      expect(answers.map(([, value]) => value)).toEqual([1, 2, 3]);
      expect(new Set(answers.map(([pid]) => pid)).size).toBe(1);
      await expect(pool.run({ do: 'say no' }, wide)).rejects.toThrow('no');
      expect((await pool.run<[number, number]>({ do: 'answer', value: 4 }, wide))[0]).toBe(answers[0]![0]);
      await expect(pool.run({ do: 'die' }, wide)).rejects.toThrow(WorkBroke);
      expect((await pool.run<[number, number]>({ do: 'answer', value: 5 }, wide))[0]).not.toBe(answers[0]![0]);
    } finally {
      await pool.close();
    }
  });
  test('one that is to be ready waits from the start, and another as soon as it broke or has rested long enough', async () => {
    const waiting = new WorkProcesses(file, 1, true, 300),
      pid = async () => (await waiting.run<[number, number]>({ do: 'answer', value: 0 }, wide))[0],
      alive = (id: number) => residentBytes(id).then((bytes) => bytes > 0),
      newest = async () => Number((await readFile(`/proc/${process.pid}/task/${process.pid}/children`, 'utf8')).trim().split(' ').at(-1));
    let last: number;
    try {
      const first = await newest(),
        used = await pid();
      expect(used).toBe(first);
      await later(1200);
      expect(await alive(used)).toBe(false);
      const second = await newest();
      expect(await alive(second)).toBe(true);
      expect(await pid()).toBe(second);
      await expect(waiting.run({ do: 'die' }, wide)).rejects.toThrow(WorkBroke);
      last = await newest();
      expect(last).not.toBe(second);
      expect(await pid()).toBe(last);
    } finally {
      await waiting.close();
    }
    expect(await alive(last)).toBe(false);
  });
  test('memory is counted with that of what it started', async () => {
    expect(await residentBytes(process.pid)).toBeGreaterThan(20 * 2 ** 20);
    expect(await residentBytes(2 ** 22 + 1)).toBe(0);
  });
});

describe('jobs', () => {
  let server: TestServer, shot: string;
  beforeAll(async () => {
    server = await TestServer.start();
    shot = await server.newShot('HT_030', { medium: await server.medium(await png(60), 'quay.png') });
  }, 60_000);
  afterAll(() => server?.end(), 60_000);
  const render = async (more: object = {}) =>
    (
      await server
        .api()
        .post('/api/jobs')
        .send({ shot, format: 'png', ...more })
        .expect(202)
    ).body as { id: string };

  test('one whose process breaks is tried once more, then parked with its reason; a person can begin it anew', async () => {
    const { drawing } = server.services,
      run = drawing.run.bind(drawing);
    let tries = 0;
    drawing.run = () => (tries++, Promise.reject(new WorkBroke('its process ended')));
    const { id } = await render(),
      parked = await server.over(id);
    drawing.run = run;
    expect([parked.state, parked.message]).toEqual([
      'parked',
      'It ended badly twice: its process ended. It does not start again by itself; what was finished is kept.',
    ]);
    expect(tries).toBe(2);
    await server.restart();
    await later(300);
    expect((await server.api().get(`/api/jobs/${id}`)).body.state).toBe('parked');
    expect((await server.api().get('/api/health')).body.queue).toMatchObject({ parked: 1 });
    await server.api().post(`/api/jobs/${id}/again`).expect(200);
    expect((await server.over(id)).state).toBe('done');
    await server.api().post(`/api/jobs/${id}/again`).expect(409);
  }, 60_000);

  test('one that takes the server with it again and again is parked too', async () => {
    const { id } = await render();
    await server.over(id);
    for (const expected of ['waiting', 'waiting', 'parked']) {
      await server.services.database.getRepository(Job).update({ id }, { state: 'running' });
      // As a server that was killed finds it; nothing takes it up before we look.
      const { jobs } = server.services as unknown as { jobs: { go(): void; resume(): Promise<void> } },
        go = jobs.go;
      jobs.go = () => undefined;
      await jobs.resume();
      jobs.go = go;
      expect((await server.api().get(`/api/jobs/${id}`)).body.state).toBe(expected);
    }
    expect((await server.api().get(`/api/jobs/${id}`)).body.message).toMatch(/^The server ended 3 times while this was running\./);
  });

  test('what a render may cost is known before it begins', async () => {
    const huge = await server.newShot('HT_031'),
      sized: Edit = { name: 'Huge', apply: (s) => void ((s.width = 8192), (s.height = 8192)) };
    await server.save(huge, {
      name: 'Clip',
      apply: (s) =>
        void (s.clips.c1 = {
          id: 'c1',
          name: 'quay',
          role: 'performance',
          media: { hash: 'f'.repeat(64) },
          width: 64,
          height: 36,
          frames: 1,
          rate: { num: 24, den: 1 },
          alpha: false,
          bits: 8,
          transfer: 'srgb',
          cue: null,
          ...plainReading,
          continues: null,
          made: null,
          start: 1001,
          placed: { values: {}, curves: {} },
        }),
    });
    await server.save(huge, sized);
    const answer = await server.api().post('/api/jobs').send({ shot: huge, format: 'png' }).expect(422);
    expect([answer.body.type, answer.body.detail]).toEqual([
      '/problems/too-costly',
      expect.stringMatching(/needs \d+\.\d GiB, and 2\.8 are allowed: at 8192 x 8192 .+ Nothing was begun\.$/),
    ]);
    expect(
      (await server.api().post('/api/shots').send({ production: server.production, code: 'HT_032', width: 8192, height: 8192 }).expect(422))
        .body.detail,
    ).toMatch(/needs/);
    const crowded = await server.newShot('HT_033', { medium: await server.medium(await png(61), 'rope.png') });
    await server.save(crowded, addRow({ id: 'r1', effect: 'emitter', lane: 'foreground', subject: null }));
    await server.save(crowded, {
      name: 'Many',
      apply: (s) => void (Object.assign(s.rows.r1!.values, { rate: 20000, life: 600 }), (s.last = 2000), (s.rows.r1!.length = 1000)),
    });
    expect((await server.api().post('/api/jobs').send({ shot: crowded, format: 'png' }).expect(422)).body.detail).toMatch(
      /^Emitter may have [\d,]+ particles alive at once, and [\d,]+ can be drawn at this size\./,
    );
  });

  test('a clean plate is built of a clip, kept as a medium, and says how it came to be; what cannot be is refused in words', async () => {
    const files = await Promise.all(
        Array.from({ length: 9 }, async (_, i) => {
          // A block of 20 x 20 goes past a wall, and is elsewhere in every frame.
          const block = { create: { width: 20, height: 20, channels: 3 as const, background: '#f0f0f0' } },
            wall = { create: { width: 220, height: 60, channels: 3 as const, background: { r: 90, g: 70, b: 50 } } };
          return [
            await sharp(wall)
              .composite([{ input: block, left: i * 22, top: 20 }])
              .removeAlpha()
              .png()
              .toBuffer(),
            `walk.${i}.png`,
          ] as [Buffer, string];
        }),
      ),
      medium = (await server.over((await server.send(files)).body.id as string)).result as { hash: string },
      id = await server.newShot('HT_035', { medium: medium.hash }),
      ask = (more: object) =>
        server
          .api()
          .post('/api/plates')
          .send({ shot: id, clip: 'c1', ...more });
    expect((await ask({ clip: 'c7' }).expect(404)).body.detail).toBe('This shot has no such clip.');
    expect((await ask({ matte: 'k7' }).expect(404)).body.detail).toBe('This shot has no such matte.');
    expect((await ask({ first: 4, last: 5 }).expect(422)).body.detail).toMatch(/^Frames 4 to 5 are not three frames or more of walk/);
    const still = await server.newShot('HT_036', { medium: await server.medium(await png(9), 'one.png') });
    expect((await server.api().post('/api/plates').send({ shot: still, clip: 'c1' }).expect(422)).body.detail).toMatch(/too few frames/);
    const job = await server.over((await ask({}).expect(202)).body.id as string);
    expect(job.state).toBe('done');
    const { hash, made } = job.result as unknown as { hash: string; made: Record<string, unknown> };
    expect(made).toMatchObject({ clip: 'c1', camera: 'measured', frames: 9, first: 0, last: 8, drift: 0, doubt: null });
    const { body } = await server
      .api()
      .get(`/api/media/${hash}/frames/0`)
      .buffer()
      .parse((r, done) => {
        const parts: Buffer[] = [];
        r.on('data', (part: Buffer) => parts.push(part));
        r.on('end', () => done(null, Buffer.concat(parts)));
      })
      .expect(200);
    const codes = new Uint16Array((body as Buffer).buffer.slice((body as Buffer).byteOffset + 20));
    for (const [c, value] of [90, 70, 50].entries())
      for (let i = c; i < codes.length; i += 3) expect(Math.abs(codes[i]! / 257 - value)).toBeLessThan(1);
    // The same plate again is the same medium.
    expect((await server.over((await ask({}).expect(202)).body.id as string)).result.hash).toBe(hash);
  }, 60_000);

  test('a render keeps the revision that it was asked for, and no copy of the document', async () => {
    const { id } = await render();
    await server.save(shot, { name: 'Other', apply: (s) => void (s.title = 'Afterwards') });
    const { input } = (await server.services.database.getRepository(Job).findOneBy({ id }))!;
    expect(input).toEqual({
      format: 'png',
      first: 1001,
      last: 1001,
      factor: 1,
      alpha: 'none',
      only: 'all',
      burn: false,
      revision: expect.any(Number),
    });
    await server.over(id);
  });

  test('lists and events carry numbers only, and a listener who does not read is let go', async () => {
    const said: string[] = [],
      listener = httpRequest({ port: server.app.port, path: '/api/events' }, (response) =>
        response.on('data', (chunk: Buffer) => said.push(chunk.toString())),
      );
    listener.end();
    const deaf = httpRequest({ port: server.app.port, path: '/api/events' }, (response) => response.pause());
    deaf.on('error', () => undefined);
    deaf.end();
    for (let i = 0; i < 100 && server.services.events.count < 2; i++) await later(20);
    expect(server.services.events.count).toBe(2);
    await server.over((await render()).id);
    await later(250);
    const events = said
      .join('')
      .split('\n')
      .filter((line) => line.startsWith('data: '))
      .map((line) => JSON.parse(line.slice(6)) as Record<string, unknown>);
    expect(events.map((e) => e.type)).toContain('job');
    for (const event of events) expect(JSON.stringify(event).length).toBeLessThan(600);
    // A megabyte of events: whoever reads has them, and whoever does not is gone.
    for (let i = 0; i < 9000; i++) {
      server.services.events.send({ type: 'shot', id: `${i}`.padEnd(900, 'x'), revision: i });
      if (i % 50 === 0) await later(1);
    }
    await later(300);
    expect(server.services.events.count).toBe(1);
    listener.destroy();
    deaf.destroy();
  }, 30_000);

  test('the server stops within ten seconds while it works', async () => {
    await server.save(shot, { name: 'Long', apply: (s) => void ((s.last = 1700), (s.width = 1280), (s.height = 720)) });
    const { id } = await render();
    for (let i = 0; i < 200 && ((await server.api().get(`/api/jobs/${id}`)).body.done as number) < 1; i++) await later(20);
    const begun = Date.now();
    await server.app.close();
    expect(Date.now() - begun).toBeLessThan(10_000);
    await server.open();
    expect((await server.api().get(`/api/jobs/${id}`)).body.state).toMatch(/waiting|running/);
    await server.api().delete(`/api/jobs/${id}`).expect(200);
    expect((await server.over(id)).state).toBe('cancelled');
    expect(await readFile(join(server.root, 'lock'), 'utf8')).toContain(String(process.pid));
  }, 60_000);
});
