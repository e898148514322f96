import type { ErrorRequestHandler, RequestHandler, Response } from 'express';
import type { z } from 'zod';
import { sentenceOf, wordsOf } from '@wraithos/core/words';
import { Explained, isDiskTrouble, MediaError } from '@wraithos/runtime';
import { isConnectionTrouble, isDatabaseFull } from '../database/trouble';

/** An error for people, as an RFC 9457 problem document with a stable type. */
export class Problem extends Explained {
  constructor(
    readonly status: number,
    readonly type: string,
    message: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(message);
  }
}
export const notFound = (what: string): Problem => new Problem(404, 'not-found', `${what} is not here; it may have been deleted.`);

/** Checks unknown data. @throws Problem that names the field, in our own words. */
export function check<S extends z.ZodType>(schema: S, data: unknown): z.infer<S> {
  const result = schema.safeParse(data, { error: wordsOf });
  if (result.success) return result.data;
  const { field, text } = sentenceOf(result.error);
  throw new Problem(400, 'invalid', /[.!?]$/.test(text) ? text : `${text}.`, { field });
}

/** A problem document as text, for who answers in another way than Express does. */
export const problemText = (status: number, type: string, detail: string): { status_code: number; body: string } => ({
  status_code: status,
  body: JSON.stringify({ type: `/problems/${type}`, title: detail, detail, status }),
});
export function sendProblem(response: Response, status: number, type: string, detail: string, extra: Record<string, unknown> = {}): void {
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: `/problems/${type}`, title: detail, detail, status, ...extra }));
}

export const unknownRoute: RequestHandler = (request, response) =>
  sendProblem(response, 404, 'not-found', `There is nothing at ${request.path.slice(0, 200)}.`);

/** What is wrong with a request that never reached its route, by what the body's reader says of it. */
const REQUEST_PROBLEMS: Readonly<Record<string, [number, string, string]>> = {
  'entity.too.large': [
    413,
    'too-large',
    'The request is larger than 32 MiB, the most that is accepted. Nothing was kept; send it in parts.',
  ],
  'entity.parse.failed': [400, 'invalid', 'The request is not JSON.'],
  'charset.unsupported': [415, 'invalid', 'The request is in a character set that is not read here; send UTF-8.'],
  'encoding.unsupported': [415, 'invalid', 'The request is packed in a way that is not read here; send it plain or as gzip.'],
  'request.aborted': [400, 'cut-off', 'The request broke off; nothing was kept.'],
  'request.size.invalid': [400, 'cut-off', 'The request is not as long as it says; nothing was kept.'],
  'parameters.too.many': [413, 'too-large', 'The request has more fields than are accepted. Nothing was kept; send it from the page.'],
};

/** What an error means for the one who asked: status, type and sentence. Null where nobody expected it. */
function meaningOf(error: unknown): [number, string, string, Record<string, unknown>?] | null {
  if (error instanceof Problem) return [error.status, error.type, error.message, error.extra];
  if (error instanceof MediaError) return [422, 'medium', error.message];
  const known = error as { type?: string; code?: string; status?: number; statusCode?: number };
  const said = REQUEST_PROBLEMS[known.type ?? ''] ?? REQUEST_PROBLEMS[known.code ?? ''];
  if (said) return said;
  if (isConnectionTrouble(error))
    return [503, 'database', 'The database is being started again; whether this was done is not known. Ask again in a moment.'];
  if (isDatabaseFull(error) || isDiskTrouble(error))
    return [507, 'disk', 'The disk is full or cannot be written; nothing was stored. Make room and try again.'];
  const status = known.status ?? known.statusCode ?? 0;
  if (status >= 400 && status < 500) return [status, 'invalid', 'The request cannot be read; nothing was done.'];
  return null;
}

/** Turns every error into a problem document. What nobody expected is logged and told without its insides. */
export const problems =
  (log: (error: unknown) => void): ErrorRequestHandler =>
  (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const meaning = meaningOf(error);
    if (meaning) {
      if (meaning[0] === 503) response.set('Retry-After', '1');
      sendProblem(response, ...meaning);
      return;
    }
    log(error);
    sendProblem(response, 500, 'internal', 'Something went wrong on the server, and it was not done. Try again.');
  };
