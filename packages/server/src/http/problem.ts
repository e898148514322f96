import type { ErrorRequestHandler, RequestHandler, Response } from 'express';
import { z } from 'zod';
import { MediaError } from '@wraithos/runtime';

/** An error for people, as an RFC 9457 problem document with a stable type. */
export class Problem extends Error {
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

/** Checks unknown data. @throws Problem that names the field. */
export function check<S extends z.ZodType>(schema: S, data: unknown): z.infer<S> {
  const result = schema.safeParse(data);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!,
    field = issue.path.join('.');
  throw new Problem(400, 'invalid', `${field ? `${field}: ` : ''}${issue.message}`, { field });
}

function send(response: Response, status: number, type: string, detail: string, extra: Record<string, unknown> = {}): void {
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: `/problems/${type}`, title: detail, detail, status, ...extra }));
}

export const unknownRoute: RequestHandler = (request, response) => send(response, 404, 'not-found', `There is nothing at ${request.path}.`);

/** Turns every error into a problem document. What nobody expected is logged and told without its insides. */
export const problems =
  (log: (error: unknown) => void): ErrorRequestHandler =>
  (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const known = error as { type?: string; code?: string; status?: number; message?: string };
    if (error instanceof Problem) send(response, error.status, error.type, error.message, error.extra);
    else if (error instanceof MediaError) send(response, 422, 'medium', error.message);
    else if (known.type === 'entity.too.large' || known.code === 'LIMIT_FILE_SIZE')
      send(response, 413, 'too-large', 'That is larger than is accepted; nothing was kept.');
    else if (known.code?.startsWith('LIMIT_'))
      send(response, 400, 'invalid', 'These are too many files or fields at once; nothing was kept.');
    else if (known.type === 'entity.parse.failed') send(response, 400, 'invalid', 'The request is not JSON.');
    else {
      log(error);
      send(response, 500, 'internal', 'Something went wrong on the server; your changes are kept here. Try again.');
    }
  };
