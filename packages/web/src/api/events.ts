import type { JobSummary } from './client';

export type ServerEvent = { type: 'job'; job: JobSummary } | { type: 'shot'; id: string; revision: number } | { type: 'shots' };
const listeners = new Set<(event: ServerEvent) => void>();
let source: EventSource | null = null;

/** Opens the one connection of the page. The browser takes it up again by itself, except after an answer such as "starting". */
function connect(): void {
  source = new EventSource('/api/events');
  source.onmessage = (message) => {
    const event = JSON.parse(String(message.data)) as ServerEvent;
    for (const each of listeners) each(event);
  };
  source.onerror = () => {
    if (source?.readyState === EventSource.CLOSED) setTimeout(connect, 1000);
  };
}

// A page that the browser keeps for "back" must not hold one of its few connections.
if (typeof addEventListener === 'function') {
  addEventListener('pagehide', () => source?.close());
  addEventListener('pageshow', (event) => {
    if ((event as PageTransitionEvent).persisted && source) connect();
  });
}

/** Listens to what happens on the server; one connection for the whole page. Returns how to stop. */
export function onServerEvent(listener: (event: ServerEvent) => void): () => void {
  if (!source) connect();
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

/** Waits until a job is over, telling its progress; looks it up as well, should an event be missed. */
export async function followJob(id: string, lookUp: () => Promise<JobSummary>, onProgress: (job: JobSummary) => void): Promise<JobSummary> {
  return new Promise((resolve, reject) => {
    const over = (job: JobSummary) => job.state !== 'waiting' && job.state !== 'running';
    const finish = (job: JobSummary) => {
      stop();
      clearInterval(timer);
      resolve(job);
    };
    const stop = onServerEvent((event) => {
      if (event.type !== 'job' || event.job.id !== id) return;
      onProgress(event.job);
      if (over(event.job)) finish(event.job);
    });
    const look = () =>
      lookUp().then(
        (job) => {
          onProgress(job);
          if (over(job)) finish(job);
        },
        (error: unknown) => {
          stop();
          clearInterval(timer);
          reject(error as Error);
        },
      );
    const timer = setInterval(look, 2000);
    void look();
  });
}
