import type { z } from 'zod';

/** One request that the server answers: what comes with it, and what goes back. Both sides are made from it, and read what they get through it. */
export interface Route<
  Path extends string = string,
  Query extends z.ZodType = z.ZodType,
  Body extends z.ZodType = z.ZodType,
  Answer extends z.ZodType = z.ZodType,
> {
  method: 'GET' | 'POST' | 'PATCH' | 'DELETE';
  /** Under `/api`, with `:name` where a parameter stands. */
  path: Path;
  query?: Query;
  body?: Body;
  /** None where the answer has no body (204), or is no JSON. */
  answer?: Answer;
  /** Status of a good answer; 200 where nothing is said, 204 without an answer. */
  status?: 200 | 201 | 202;
}

/** Declares a route; its types follow from what is written. */
export const route = <
  const Path extends string,
  Query extends z.ZodType = z.ZodUndefined,
  Body extends z.ZodType = z.ZodUndefined,
  Answer extends z.ZodType = z.ZodUndefined,
>(
  r: Route<Path, Query, Body, Answer>,
): Route<Path, Query, Body, Answer> => r;

/** Names of the parameters in a path. */
export type ParamsOf<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? { [K in Name | keyof ParamsOf<`/${Rest}`>]: string }
  : Path extends `${string}:${infer Name}`
    ? { [K in Name]: string }
    : unknown;

/**
 * The address of a request, under `/api`.
 * @example addressOf(openShot, { id: 'a1' }) // '/shots/a1'
 */
export function addressOf<Path extends string>(
  r: { path: Path },
  params?: ParamsOf<Path>,
  query?: Readonly<Record<string, unknown>>,
): string {
  const path = r.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String((params as Record<string, unknown>)[name]))),
    asked = Object.entries(query ?? {}).filter(([, value]) => value !== undefined && value !== null);
  return asked.length ? `${path}?${new URLSearchParams(asked.map(([key, value]) => [key, String(value)])).toString()}` : path;
}
