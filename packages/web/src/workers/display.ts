import type { DisplayAnswer, DisplayRequest, FilmFrame } from './protocol';

/** The page's side of the display worker: which canvas it has, and which picture is to be seen on it. */
export class Display {
  private readonly worker = new Worker(new URL('./display.worker.ts', import.meta.url), { type: 'module' });
  private canvas: HTMLCanvasElement | null = null;
  private wanted: { key: string; frame: number } | null = null;
  private size = { width: 0, height: 0 };
  private readonly given = new WeakSet<HTMLCanvasElement>();
  private readonly listeners = new Set<(answer: DisplayAnswer) => void>();

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<DisplayAnswer>) => {
      if (data.kind === 'shown' && this.canvas) Object.assign(this.canvas.dataset, { frame: String(data.frame), key: data.key });
      for (const listener of this.listeners) listener(data);
    };
  }
  /** Hears of every picture that is on the canvas, and of the film that is played; gives what ends it. */
  listen(listener: (answer: DisplayAnswer) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }
  private post(request: DisplayRequest, transfer: Transferable[] = []): void {
    this.worker.postMessage(request, transfer);
  }
  /** One end for the drawing worker, by which pictures come to the display. */
  connect(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    this.post({ kind: 'port', port: port1 }, [port1]);
    return port2;
  }
  /** Shows pictures on this canvas from now on; a canvas can only be given once in its life. */
  attach(canvas: HTMLCanvasElement): void {
    this.canvas = canvas;
    if (this.given.has(canvas)) return;
    this.given.add(canvas);
    const off = canvas.transferControlToOffscreen();
    this.post({ kind: 'canvas', canvas: off }, [off]);
    if (this.wanted) this.post({ kind: 'show', ...this.wanted });
  }
  /** Says how large sharp pictures are from now on. */
  room(width: number, height: number): void {
    if (this.size.width === width && this.size.height === height) return;
    this.size = { width, height };
    this.post({ kind: 'room', width, height });
  }
  show(key: string, frame: number): void {
    this.wanted = { key, frame };
    this.post({ kind: 'show', key, frame });
  }
  /** Shows what the drawing worker makes for one of these tickets as soon as it is there, without another word from the page. */
  await(tickets: string[], frame: number): void {
    this.post({ kind: 'await', tickets, frame });
  }
  /** Plays frames from index `at` on, by the display's own clock. */
  play(film: FilmFrame[], at: number, perSecond: number, loop: boolean): void {
    this.post({ kind: 'play', film, at, perSecond, loop });
  }
  /** A frame of the film is drawn now. */
  put(frame: number, key: string): void {
    this.post({ kind: 'film', frame, key });
  }
  stop(): void {
    this.post({ kind: 'stop' });
  }
  forget(keys: string[]): void {
    this.post({ kind: 'forget', keys });
  }
}

let one: Display | null = null;
/** The one display of the page. */
export const display = (): Display => (one ??= new Display());
