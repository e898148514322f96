import { createServer, type RequestListener, type Server } from 'node:http';
import { chmod, mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { BlobStore, computingThreads, FrameStore } from '@wraithos/runtime';
import { connect } from './database/connect';
import { markForm } from './database/copyBefore';
import { Daemon } from './database/daemon';
import { Patience } from './database/patience';
import { Disk, type DiskOptions } from './folder/disk';
import { lockFolder } from './folder/lock';
import { sweep } from './folder/sweep';
import { createApp } from './http/app';
import { Events } from './http/events';
import { importJob } from './jobs/importJob';
import { Jobs } from './jobs/jobs';
import { plateJob } from './jobs/plateJob';
import { renderJob } from './jobs/renderJob';
import { unpackJob } from './jobs/unpackJob';
import { WorkProcesses } from './jobs/workProcess';
import { bringAllUpToDate } from './revisions';
import { seed } from './seed';
import type { Folders, Services } from './services';
import { ShotStore } from './shots';
import { Stockroom } from './stockroom';

export interface OpenOptions {
  root: string;
  port: number;
  webFolder: string | null;
  /** The built program of a work process. */
  workFile: string;
  demoFolder: string | null;
  /** Where the elements of the stockroom are that come with the program. */
  stockFolder: string | null;
  disk?: DiskOptions;
  log?: (error: unknown) => void;
  say?: (line: string) => void;
}
export interface Opened {
  port: number;
  services: Services;
  server: Server;
  close(): Promise<void>;
}

/** How often the folder is swept while the server runs. */
const SWEEP_EVERY_MS = 24 * 3_600_000;

/** Starts everything: lock, database, tables, stores, jobs, demo, HTTP. @throws Error in one clear line. */
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
  // Browsers keep their lines open for longer than the usual five seconds, and would find them closed.
  server.keepAliveTimeout = 65_000;
  const { port } = server.address() as { port: number };
  const undo: (() => unknown)[] = [
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
    // What is made in the folder is for this account alone, whatever the terminal's own setting is.
    process.umask(0o077);
    for (const folder of Object.values(folders)) {
      await mkdir(folder, { recursive: true });
      await chmod(folder, 0o700);
    }
    undo.push(await lockFolder(root, port));
    const disk = new Disk(root, options.disk);
    await disk.start();
    undo.push(() => disk.close());
    say('starting the database');
    const daemon = await Daemon.start(join(root, 'mariadb'), log, say);
    undo.push(() => daemon.stop());
    const database = await connect(daemon);
    undo.push(() => Promise.race([database.destroy(), new Promise((resolve) => setTimeout(resolve, 1000))]));
    await markForm(join(root, 'mariadb'));
    const events = new Events(),
      frames = new FrameStore(folders.frames),
      pools = {
        drawing: new WorkProcesses(options.workFile, computingThreads()),
        reading: new WorkProcesses(options.workFile, 1, true),
        sketching: new WorkProcesses(options.workFile, 1),
      };
    undo.push(() => Promise.all(Object.values(pools).map((pool) => pool.close())));
    const base = {
        database,
        daemon,
        patience: new Patience(daemon),
        disk,
        frames,
        blobs: new BlobStore(folders.blobs),
        shots: new ShotStore(database, events),
        stockroom: new Stockroom({ database, disk, frames, folders }, options.stockFolder),
        events,
        folders,
        ...pools,
        log,
      },
      jobs = new Jobs(base, { import: importJob(base), plate: plateJob(base), render: renderJob(base), unpack: unpackJob(base) }),
      services: Services = { ...base, jobs };
    undo.push(async () => {
      events.close();
      base.patience.close();
      await jobs.close();
      await services.shots.flush().catch(() => undefined);
    });
    disk.listen((level) => events.send({ type: 'disk', level }));
    await bringAllUpToDate(database, say);
    await services.shots.fillFacts();
    await sweep(services, true);
    const daily = setInterval(() => void sweep(services, false).catch(log), SWEEP_EVERY_MS);
    daily.unref();
    undo.push(() => clearInterval(daily));
    if (options.demoFolder) await seed(services, options.demoFolder, say);
    await jobs.resume();
    app = createApp(services, options.webFolder);
    return { port, services, server, close };
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
