import { createServer, type RequestListener, type Server } from 'node:http';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { BlobStore, FrameStore } from '@wraithos/runtime';
import { connect } from './database/connect';
import { startDatabase } from './database/daemon';
import { Job, Medium } from './database/entities';
import { createApp } from './http/app';
import { Events } from './http/events';
import { importJob } from './jobs/importJob';
import { Jobs } from './jobs/jobs';
import { renderJob } from './jobs/renderJob';
import { RenderPool } from './jobs/renderPool';
import { seed } from './seed';
import type { Folders, Services } from './services';

export interface OpenOptions {
  root: string;
  port: number;
  webFolder: string | null;
  workerFile: string;
  demoFolder: string | null;
  log?: (error: unknown) => void;
  say?: (line: string) => void;
}
export interface Opened {
  port: number;
  services: Services;
  server: Server;
  close(): Promise<void>;
}

/** Starts everything: database, tables, stores, jobs, demo, HTTP. @throws Error in one clear line. */
export async function open(options: OpenOptions): Promise<Opened> {
  const { root, say = () => undefined, log = (error) => console.error(error) } = options;
  const folders: Folders = {
    root,
    uploads: join(root, 'uploads'),
    frames: join(root, 'frames'),
    blobs: join(root, 'samples'),
    renders: join(root, 'renders'),
    thumbnails: join(root, 'thumbnails'),
  };
  // The port is asked for first: a taken one should cost nothing.
  let app: RequestListener = starting;
  const server = createServer((request, response) => app(request, response));
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Error(`Port ${options.port} is taken by another program; stop it or choose another one with PORT=4601 npm start.`)
          : error,
      ),
    );
    server.listen(options.port, '127.0.0.1', resolve);
  });
  const undo: (() => Promise<unknown>)[] = [
    () =>
      new Promise((resolve) => {
        server.close(resolve);
        server.closeAllConnections();
      }),
  ];
  const close = async () => {
    for (const step of undo.splice(0).reverse()) await step();
  };
  try {
    for (const folder of Object.values(folders)) await mkdir(folder, { recursive: true });
    say('starting the database');
    const daemon = await startDatabase(join(root, 'mariadb'));
    undo.push(() => daemon.stop());
    const database = await connect(daemon);
    undo.push(() => database.destroy());
    const frames = new FrameStore(folders.frames),
      blobs = new BlobStore(folders.blobs),
      events = new Events(),
      pool = new RenderPool(options.workerFile);
    undo.push(() => pool.close());
    const base = { database, frames, blobs, events, folders, pool, log },
      jobs = new Jobs(base, { import: importJob(base), render: renderJob(base) }),
      services: Services = { ...base, jobs };
    undo.push(async () => {
      events.close();
      await jobs.close();
    });
    await agree(services);
    if (options.demoFolder) await seed(services, options.demoFolder, say);
    await jobs.resume();
    app = createApp(services, options.webFolder);
    return { port: (server.address() as { port: number }).port, services, server, close };
  } catch (error) {
    await close();
    throw error;
  }
}

/** Who asks before everything is up is told so, in place of waiting for an answer that would never come. */
const starting: RequestListener = (_, response) => {
  response.writeHead(503, { 'Content-Type': 'application/problem+json', 'Retry-After': '1' });
  response.end(
    JSON.stringify({
      type: '/problems/starting',
      title: 'Wraithos is starting; ask again in a moment.',
      detail: 'Wraithos is starting; ask again in a moment.',
      status: 503,
    }),
  );
};

/** After a crash, rows and files may disagree: media rows without frames go, unfinished files go, uploads nobody waits for go. */
async function agree(services: Services): Promise<void> {
  await services.frames.tidy();
  const { manager } = services.database,
    stored = new Set(await services.frames.list());
  for (const medium of await manager.find(Medium)) if (!stored.has(medium.hash)) await manager.delete(Medium, { hash: medium.hash });
  const waiting = (await manager.find(Job, { where: [{ state: 'waiting' }, { state: 'running' }] })).map((job) =>
    String(job.input.folder ?? ''),
  );
  for (const name of await readdir(services.folders.uploads))
    if (!waiting.includes(join(services.folders.uploads, name)))
      await rm(join(services.folders.uploads, name), { recursive: true, force: true });
}
