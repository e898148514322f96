import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = process.cwd();
const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const s = createServer().listen(0, '127.0.0.1', () => {
      const { port } = s.address() as { port: number };
      s.close(() => resolve(port));
    });
  });

/** The built application with an empty data folder of its own. */
export class Application {
  base = '';
  private child: ChildProcess | null = null;
  private constructor(
    readonly data: string,
    readonly port: number,
    private readonly env: Record<string, string>,
  ) {}
  /** @param env settings beside the folder and the port. */
  static async start(env: Record<string, string> = {}): Promise<Application> {
    const app = new Application(await mkdtemp(join(tmpdir(), 'wraithos-e2e-')), await freePort(), env);
    await app.launch();
    return app;
  }
  async launch(): Promise<void> {
    const child = spawn(process.execPath, ['--max-semi-space-size=64', join(root, 'dist', 'server', 'main.mjs')], {
      env: { ...process.env, ...this.env, PORT: String(this.port), WRAITHOS_DATA: this.data },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.child = child;
    this.base = `http://127.0.0.1:${this.port}`;
    await new Promise<void>((resolve, reject) => {
      let out = '';
      const hear = (chunk: Buffer) => {
        out += chunk.toString();
        if (out.includes('Wraithos is at')) resolve();
      };
      child.stdout!.on('data', hear);
      child.stderr!.on('data', hear);
      child.on('exit', (code) => reject(new Error(`the application ended with ${code}: ${out}`)));
    });
  }
  /** The server's process. */
  get pid(): number | undefined {
    return this.child?.pid;
  }
  /** Ends it as Ctrl-C does, or (hard) as a crash would. */
  async end(hard = false): Promise<void> {
    const child = this.child;
    this.child = null;
    if (!child || child.exitCode !== null) return;
    const over = new Promise((resolve) => child.once('exit', resolve));
    child.kill(hard ? 'SIGKILL' : 'SIGINT');
    await over;
  }
  async close(): Promise<void> {
    await this.end();
    await rm(this.data, { recursive: true, force: true });
  }
  async get<T>(path: string): Promise<T> {
    return (await (await fetch(`${this.base}/api${path}`)).json()) as T;
  }
  async send<T>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: response.status, body: (await response.json().catch(() => ({}))) as T };
  }
}
