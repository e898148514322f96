import { ApiError, type JobSummary } from './client';

/** What a job event says: numbers and words, no result. */
export type JobNews = Pick<JobSummary, 'id' | 'kind' | 'state' | 'shot' | 'done' | 'total' | 'secondsLeft' | 'message'>;
export type ServerEvent =
  | ({ type: 'job' } & JobNews)
  | { type: 'shot'; id: string; revision: number }
  | { type: 'shots' }
  | { type: 'disk'; level: string }
  /** The connection broke and is there again: whatever happened meanwhile has to be asked for. */
  | { type: 'again' };
const listeners = new Set<(event: ServerEvent) => void>();
let source: EventSource | null = null,
  broke = false;

/** Opens the one connection of the page. The browser takes it up again by itself, except after an answer such as "starting". */
function connect(): void {
  source = new EventSource('/api/events');
  const tell = (event: ServerEvent) => {
    for (const each of listeners) each(event);
  };
  source.onmessage = (message) => tell(JSON.parse(String(message.data)) as ServerEvent);
  source.onopen = () => {
    if (broke) tell({ type: 'again' });
    broke = false;
  };
  source.onerror = () => {
    broke = true;
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

/** Waits until a job is over, telling its progress; looks it up as well, should an event be missed. The end comes from the job itself. */
export async function followJob(id: string, lookUp: () => Promise<JobSummary>, onProgress: (job: JobNews) => void): Promise<JobSummary> {
  return new Promise((resolve, reject) => {
    const over = (job: JobNews) => job.state !== 'waiting' && job.state !== 'running';
    const end = (act: () => void) => {
      stop();
      clearInterval(timer);
      act();
    };
    const look = () =>
      lookUp().then(
        (job) => {
          onProgress(job);
          if (over(job)) end(() => resolve(job));
        },
        (error: unknown) => {
          // A server that is away for a moment goes on with the job when it is back.
          if (!(error instanceof ApiError) || (error.status >= 400 && error.status < 500)) end(() => reject(error as Error));
        },
      );
    const stop = onServerEvent((event) => {
      if (event.type === 'again') void look();
      if (event.type !== 'job' || event.id !== id) return;
      onProgress(event);
      if (over(event)) void look();
    });
    const timer = setInterval(look, 2000);
    void look();
  });
}
