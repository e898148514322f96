import { z } from 'zod';
import { addressOf, problem, type ParamsOf, type Route } from '@wraithos/contract';

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

/** What a request carries beside its route. */
type Asked<Path extends string, Query extends z.ZodType, Body extends z.ZodType> = {
  /** Milliseconds after which an answer is given up. */
  patience?: number;
} & (unknown extends ParamsOf<Path> ? { params?: undefined } : { params: ParamsOf<Path> }) &
  (Query extends z.ZodUndefined ? { query?: undefined } : { query?: z.input<Query> }) &
  (Body extends z.ZodUndefined ? { body?: undefined } : { body: z.input<Body> });

/**
 * Asks the server on a route of the contract, and reads its answer through the route's schema. Look-ups wait while it is being started.
 * @throws ApiError in a sentence for people.
 * @example const opened = await call(openShot, { params: { id } })
 */
export async function call<Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  route: Route<Path, Query, Body, Answer>,
  asked: Asked<Path, Query, Body>,
): Promise<z.output<Answer>> {
  const { params, query, body, patience } = asked as { params?: ParamsOf<Path>; query?: object; body?: unknown; patience?: number },
    path = addressOf(route, params, query as Record<string, unknown> | undefined);
  for (const end = Date.now() + STARTING_MS; ;) {
    try {
      const data = await once(route.method, path, body, patience);
      return route.answer ? read(route.answer, data) : (undefined as z.output<Answer>);
    } catch (error) {
      if (route.method !== 'GET' || !(error instanceof ApiError) || error.status !== 503 || Date.now() > end) throw error;
      await later(1000);
    }
  }
}
/** An answer read through its schema. @throws ApiError where this page is not of the server's version. */
export function read<S extends z.ZodType>(schema: S, data: unknown): z.output<S> {
  const result = schema.safeParse(data);
  if (result.success) return result.data;
  const { path, message } = result.error.issues[0]!;
  throw new ApiError(
    0,
    'answer',
    `The server's answer cannot be read here${path.length ? ` (${path.map(String).join('.')}: ${message})` : `: ${message}`}. Reload the page; it may be of an older version.`,
    {},
  );
}
async function once(method: string, path: string, body: unknown, patience: number | undefined): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: patience === undefined ? undefined : AbortSignal.timeout(patience),
    });
  } catch {
    throw new ApiError(0, 'offline', 'The server does not answer. Start it again with npm start; this page then goes on by itself.', {});
  }
  if (response.status === 204) return undefined;
  const data: unknown = await response.json().catch(() => ({}));
  if (!response.ok) throw refusal(response.status, data, Number(response.headers.get('Retry-After')) || 0);
  return data;
}
/** An answer that is no good one, as an error in a sentence for people. */
export function refusal(status: number, data: unknown, retryAfter = 0): ApiError {
  const said = problem.safeParse(data);
  return new ApiError(
    status,
    said.success ? said.data.type : '',
    said.success ? said.data.detail : `The server gave no usable answer (${status}). Nothing was changed; try again.`,
    typeof data === 'object' && data !== null ? (data as Record<string, unknown>) : {},
    retryAfter,
  );
}
