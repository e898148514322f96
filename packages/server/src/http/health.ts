import type { RequestHandler } from 'express';
import type { Services } from '../services';

/** The state of the parts as they are now: 200 where all of them work, 503 where one does not. Nothing here waits for the database. */
export const health =
  ({ daemon, disk, jobs, events }: Services): RequestHandler =>
  async (_request, response) => {
    const state = await disk.look().catch(() => disk.state),
      up = daemon.state === 'up',
      queue = up
        ? await Promise.race([jobs.counts(), new Promise<null>((resolve) => setTimeout(() => resolve(null), 1000))]).catch(() => null)
        : null,
      ok = up && queue !== null && !disk.closed;
    response
      .status(ok ? 200 : 503)
      .set('Cache-Control', 'no-store')
      .json({
        ok,
        process: { pid: process.pid, uptimeSeconds: Math.round(process.uptime()), residentBytes: process.memoryUsage.rss() },
        database: { state: up && queue === null ? 'silent' : daemon.state, since: daemon.since.toISOString(), restarts: daemon.restarts },
        disk: { ...state, message: disk.trouble() },
        queue,
        listeners: events.count,
      });
  };
