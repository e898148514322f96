import { createReadStream, createWriteStream } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import type { z } from 'zod';
import {
  addressOf,
  getJob,
  isOver,
  jobSummary,
  listProductions,
  listShots,
  problem,
  productionBundle,
  shotBundle,
  uploadHeaders,
  uploadIdOf,
  UPLOADS,
  type ParamsOf,
  type Route,
  type sendBundle,
  type SentFiles,
} from '@wraithos/contract';
import { pathOf, progress, UsageError } from './command';

/** The data folder that a person means: said, or set, or the one beside the program. */
export const dataFolder = (said?: string): string =>
  said ? pathOf(said) : resolve(process.env.WRAITHOS_DATA ?? join(fileURLToPath(import.meta.url), '..', '..', '..', '.data'));

/** The running server of a data folder. */
export class Server {
  private constructor(private readonly base: string) {}
  /** @throws Error where none runs on this folder. */
  static async of(folder: string): Promise<Server> {
    const port = await readFile(join(folder, 'lock'), 'utf8')
      .then((text) => (JSON.parse(text) as { port: number }).port)
      .catch(() => null);
    const server = port ? new Server(`http://127.0.0.1:${port}/api`) : null;
    if (!server || !(await fetch(`${server.base}/shots`).catch(() => null))?.ok)
      throw new Error(`No server runs on the data folder ${folder}. Start it with npm start, or name another folder with --data.`);
    return server;
  }
  /** Looks something up on a route of the contract. */
  async get<Path extends string, Answer extends z.ZodType>(
    route: Route<Path, z.ZodType, z.ZodUndefined, Answer>,
    params?: ParamsOf<Path>,
  ): Promise<z.output<Answer>> {
    return answer(route.answer!, await fetch(this.base + addressOf(route, params)));
  }
  /** Writes what the server sends to a file. */
  async download(path: string, file: string): Promise<void> {
    const response = await fetch(this.base + path);
    if (!response.ok) throw await refusal(response);
    let bytes = 0;
    const counted = async function* (from: AsyncIterable<Uint8Array>) {
      for await (const chunk of from) {
        progress(`${Math.round((bytes += chunk.length) / 2 ** 20)} MiB`);
        yield chunk;
      }
    };
    await pipeline(Readable.fromWeb(response.body as never), counted, createWriteStream(file));
  }
  /** Sends a file and waits for the job that takes it over. */
  async upload<Result extends z.ZodType>(to: typeof sendBundle, result: Result, file: string): Promise<z.output<Result>> {
    const { size } = await stat(file),
      sent = await fetch(this.base + UPLOADS, {
        method: 'POST',
        headers: { ...uploadHeaders(size), 'Content-Length': String(size) },
        body: Readable.toWeb(createReadStream(file)) as never,
        duplex: 'half',
      } as RequestInit);
    if (sent.status !== 201) throw await refusal(sent);
    const job = await answer(
      jobSummary,
      await fetch(this.base + to.path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          files: [{ upload: uploadIdOf(sent.headers.get('Location') ?? ''), name: basename(file) }],
        } satisfies SentFiles),
      }),
    );
    for (;;) {
      const now = await this.get(getJob, { id: job.id });
      if (now.state === 'done') return result.parse(now.result);
      if (isOver(now.state)) throw new Error(now.message);
      progress(now.message || `${now.done} of ${now.total}`);
      await new Promise((wait) => setTimeout(wait, 200));
    }
  }
}

async function refusal(response: Response): Promise<Error> {
  const said = problem.safeParse(await response.json().catch(() => ({})));
  return new Error(
    said.success ? said.data.detail : `The server gave no usable answer (${response.status}); see its terminal, and try again.`,
  );
}
/** A good answer, read through its schema. @throws Error in the server's own words. */
async function answer<S extends z.ZodType>(schema: S, response: Response): Promise<z.output<S>> {
  if (!response.ok) throw await refusal(response);
  return schema.parse(await response.json());
}

/** The shot or production that a person names by its code, name or id. @throws UsageError where there is none, or several. */
export async function named(server: Server, given: { shot?: string; production?: string }): Promise<string | null> {
  const pick = (list: { id: string; label: string }[], wish: string, what: string): string => {
    const found = list.filter((entry) => entry.id === wish || entry.label === wish);
    if (found.length === 1) return found[0]!.id;
    throw new UsageError(found.length ? `Several ${what}s are called "${wish}"; name one by its id.` : `There is no ${what} "${wish}".`);
  };
  if (given.shot)
    return addressOf(shotBundle, {
      id: pick(
        (await server.get(listShots)).map((s) => ({ id: s.id, label: s.code })),
        given.shot,
        'shot',
      ),
    });
  if (given.production)
    return addressOf(productionBundle, {
      id: pick(
        (await server.get(listProductions)).map((p) => ({ id: p.id, label: p.name })),
        given.production,
        'production',
      ),
    });
  return null;
}
