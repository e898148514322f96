import type { Request, Response } from 'express';
import type { ServerEvent } from '@wraithos/contract';

/** Events of so many milliseconds go out together. */
const TOGETHER_MS = 100;
/** Bytes that may wait for a listener who does not read; then it is let go, and asks anew when it wakes up. */
const MOST_WAITING = 256 * 1024;

/** Server-sent events to every listener. */
export class Events {
  private readonly listeners = new Set<Response>();
  private readonly soon = new Map<string, ServerEvent>();
  private timer: ReturnType<typeof setTimeout> | null = null;
  private readonly beat = setInterval(() => this.write(': beat\n\n'), 20_000).unref();

  get count(): number {
    return this.listeners.size;
  }
  listen(request: Request, response: Response): void {
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', Connection: 'keep-alive' });
    response.write('retry: 1000\n\n');
    this.listeners.add(response);
    request.on('close', () => this.listeners.delete(response));
    response.on('error', () => this.listeners.delete(response));
  }
  /**
   * Tells everybody, soon: what happens within a moment goes out together, and of one thing only the newest. Two hundred listeners would
   * otherwise cost two hundred writes for every edit.
   */
  send(event: ServerEvent): void {
    const name = `${event.type} ${'id' in event ? event.id : ''}`;
    this.soon.delete(name);
    this.soon.set(name, event);
    this.timer ??= setTimeout(() => this.flush(), TOGETHER_MS).unref();
  }
  private flush(): void {
    this.timer = null;
    const text = [...this.soon.values()].map((event) => `data: ${JSON.stringify(event)}\n\n`).join('');
    this.soon.clear();
    if (text) this.write(text);
  }
  private write(text: string): void {
    for (const listener of this.listeners) {
      if (listener.writableLength + (listener.socket?.writableLength ?? 0) > MOST_WAITING) {
        this.listeners.delete(listener);
        listener.destroy();
      } else listener.write(text);
    }
  }
  close(): void {
    clearInterval(this.beat);
    if (this.timer) clearTimeout(this.timer);
    this.flush();
    for (const listener of this.listeners) listener.end();
    this.listeners.clear();
  }
}
