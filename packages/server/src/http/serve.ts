import type { Request, Response, Router } from 'express';
import type { z } from 'zod';
import type { ParamsOf, Route } from '@wraithos/contract';
import { check } from './problem';

/** What a handler gives that has answered by itself: with a file, a stream, or text that was ready. */
export const SENT = Symbol('sent');

/** Everything that came with a request, read through its route's schemas. */
export interface Asked<Path extends string, Query extends z.ZodType, Body extends z.ZodType> {
  params: ParamsOf<Path>;
  query: z.output<Query>;
  body: z.output<Body>;
}

/**
 * Answers a route of the contract: reads what comes through its schemas, and sends what the work gives with the route's status.
 * @param work gives the answer, nothing for a route without one, or `SENT`. What it throws becomes a problem document.
 */
export function serve<Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  router: Router,
  route: Route<Path, Query, Body, Answer>,
  work: (asked: Asked<Path, Query, Body>, request: Request, response: Response) => Promise<z.input<Answer> | typeof SENT | void>,
): void {
  const verb = route.method.toLowerCase() as 'get' | 'post' | 'patch' | 'delete';
  router[verb](route.path, async (request: Request, response: Response) => {
    const asked = {
        params: request.params,
        query: route.query ? check(route.query, request.query) : undefined,
        body: route.body ? check(route.body, request.body) : undefined,
      } as Asked<Path, Query, Body>,
      answer = await work(asked, request, response);
    if (answer === SENT) return;
    if (answer === undefined) response.status(204).end();
    else response.status(route.status ?? 200).json(answer);
  });
}
