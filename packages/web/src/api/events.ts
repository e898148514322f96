import { isOver, serverEvent, type JobNews, type JobSummary, type ServerEvent } from '@wraithos/contract';
import { ApiError } from './client';

/** What pages hear: what the server tells, and that a connection which broke is there again, so that everything has to be asked for anew. */
export type HeardEvent = ServerEvent | { type: 'again' };
const listeners = new Set<(event: HeardEvent) => void>();
let source: EventSource | null = null,
  broke = false;

/** Opens the one connection of the page. The browser takes it up again by itself, except after an answer such as "starting". */
function connect(): void {
  source = new EventSource('/api/events');
  const tell = (event: HeardEvent) => {
    for (const each of listeners) each(event);
  };
  source.onmessage = (message) => {
    // What a newer server tells and this page does not know is left alone.
    const heard = serverEvent.safeParse(JSON.parse(String(message.data)));
    if (heard.success) tell(heard.data);
  };
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
export function onServerEvent(listener: (event: HeardEvent) => void): () => void {
  if (!source) connect();
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

/** Waits until a job is over, telling its progress; looks it up as well, should an event be missed. The end comes from the job itself. */
export async function followJob(id: string, lookUp: () => Promise<JobSummary>, onProgress: (job: JobNews) => void): Promise<JobSummary> {
  return new Promise((resolve, reject) => {
    // An answer that was still on its way when the job was over must not be told after its end.
    let over = false;
    const end = (act: () => void) => {
      if (over) return;
      over = true;
      stop();
      clearInterval(timer);
      act();
    };
    const look = () =>
      lookUp().then(
        (job) => {
          if (over) return;
          onProgress(job);
          if (isOver(job.state)) end(() => resolve(job));
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
      if (isOver(event.state)) void look();
    });
    const timer = setInterval(look, 2000);
    void look();
  });
}
