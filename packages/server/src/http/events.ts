import type { Request, Response } from 'express';

/** What happened, for every open page: server-sent events. */
export type ServerEvent = { type: 'job'; job: unknown } | { type: 'shot'; id: string; revision: number } | { type: 'shots' };

export class Events {
  private readonly listeners = new Set<Response>();
  private readonly beat = setInterval(() => {
    for (const r of this.listeners) r.write(': beat\n\n');
  }, 20_000).unref();

  listen(request: Request, response: Response): void {
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', Connection: 'keep-alive' });
    response.write('retry: 1000\n\n');
    this.listeners.add(response);
    request.on('close', () => this.listeners.delete(response));
  }
  send(event: ServerEvent): void {
    for (const r of this.listeners) r.write(`data: ${JSON.stringify(event)}\n\n`);
  }
  close(): void {
    clearInterval(this.beat);
    for (const r of this.listeners) r.end();
  }
}
