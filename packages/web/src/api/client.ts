import type { Patch } from 'immer';
import type { Recipe } from '@wraithos/core/recipes';
import type { MediumFacts, Shot } from '@wraithos/core/shot';
import type { TrackSample } from '@wraithos/core/motion';

export interface Production {
  id: string;
  name: string;
}
export interface ShotSummary {
  id: string;
  production: string;
  code: string;
  title: string;
  revision: number;
  width: number;
  height: number;
  rate: { num: number; den: number };
  first: number;
  last: number;
  rows: number;
  updated: string;
}
export interface HistoryEntry {
  revision: number;
  name: string;
  kind: 'do' | 'undo' | 'redo';
  patches: Patch[];
  inverse: Patch[];
}
export interface OpenShot extends ShotSummary {
  productionName: string;
  document: Shot;
  history: HistoryEntry[];
}
export interface MediaInfo extends MediumFacts {
  codec: string;
  kind: string;
}
export interface JobSummary {
  id: string;
  kind: 'import' | 'render' | 'unpack';
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled' | 'parked';
  title: string;
  shot: string | null;
  done: number;
  total: number;
  secondsLeft: number | null;
  message: string;
  result: Record<string, unknown> | null;
  input: { format?: string; first?: number; last?: number };
  created: string;
}

/** What uses the disk; `goneAt` is set for what is in the bin. */
export interface Room {
  disk: { level: string; free: number; total: number; message: string | null };
  binDays: number;
  groups: Record<string, number>;
  media: {
    hash: string;
    name: string;
    width: number;
    height: number;
    frames: number;
    bytes: number;
    created: string;
    goneAt: string | null;
    uses: { shot: string; code: string; now: boolean; deleted: boolean }[];
  }[];
  renders: { id: string; title: string; state: string; bytes: number; created: string; goneAt: string | null }[];
  shots: { id: string; code: string; title: string; production: string; goneAt: string }[];
}

export interface SavedRecipe {
  id: string;
  name: string;
  recipe: Recipe;
}

/** An error that the server explained, in a sentence for people. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    message: string,
    readonly body: Record<string, unknown>,
    /** Seconds after which the server wants to be asked again; 0 where it does not say. */
    readonly retryAfter = 0,
  ) {
    super(message);
  }
}

/** How long a look-up waits for a server or database that is being started, milliseconds. */
const STARTING_MS = 20_000;
const later = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Asks the server. Look-ups wait while it is being started.
 * @param patience milliseconds after which an answer is given up.
 * @throws ApiError in a sentence for people.
 */
export async function request<T>(method: string, path: string, body?: unknown, patience?: number): Promise<T> {
  for (const end = Date.now() + STARTING_MS; ;) {
    try {
      return await once<T>(method, path, body, patience);
    } catch (error) {
      if (method !== 'GET' || !(error instanceof ApiError) || error.status !== 503 || Date.now() > end) throw error;
      await later(1000);
    }
  }
}
async function once<T>(method: string, path: string, body: unknown, patience: number | undefined): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: patience === undefined ? undefined : AbortSignal.timeout(patience),
    });
  } catch {
    throw new ApiError(0, 'offline', 'The server does not answer; try again when it is back.', {});
  }
  if (response.status === 204) return undefined as T;
  const data = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  if (!response.ok)
    throw new ApiError(
      response.status,
      String(data.type ?? ''),
      String(data.detail ?? `The server answered ${response.status}; try again.`),
      data,
      Number(response.headers.get('Retry-After')) || 0,
    );
  return data as T;
}
export const get = <T>(path: string): Promise<T> => request<T>('GET', path);
export const storeSamples = async (samples: TrackSample[]): Promise<string> =>
  (await request<{ hash: string }>('POST', '/samples', samples)).hash;

/** Sends files with progress 0..1. The job that reads them comes back. */
export function upload(
  files: File[],
  onProgress: (share: number) => void,
  signal: AbortSignal,
  path: '/media' | '/bundles' = '/media',
): Promise<JobSummary> {
  return new Promise((resolve, reject) => {
    const form = new FormData(),
      call = new XMLHttpRequest();
    for (const file of files) form.append('files', file, file.name);
    call.open('POST', `/api${path}`);
    call.responseType = 'json';
    call.upload.onprogress = (event) => onProgress(event.total ? event.loaded / event.total : 0);
    call.onload = () => {
      const body = (call.response ?? {}) as Record<string, unknown>;
      if (call.status < 300) resolve(body as unknown as JobSummary);
      else reject(new ApiError(call.status, String(body.type ?? ''), String(body.detail ?? 'The files could not be sent.'), body));
    };
    call.onerror = () => reject(new ApiError(0, 'offline', 'The server does not answer; nothing was sent.', {}));
    call.onabort = () => reject(new ApiError(0, 'cancelled', 'Cancelled; nothing was kept.', {}));
    signal.addEventListener('abort', () => call.abort(), { once: true });
    call.send(form);
  });
}
