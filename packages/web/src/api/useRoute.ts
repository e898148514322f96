import useSWR, { type SWRConfiguration, type SWRResponse } from 'swr';
import { addressOf, type ParamsOf, type Route } from '@wraithos/contract';
import type { z } from 'zod';
import { call } from './client';

/** The key under which the answer of a route is kept on this page. */
export const keyOf = <Path extends string>(route: { path: Path }, params?: ParamsOf<Path>, query?: object): string =>
  addressOf(route, params, query as Record<string, unknown> | undefined);

/** The answer of a look-up, kept and looked up again by its address; nothing is asked while `asked` is null. */
export function useRoute<Path extends string, Query extends z.ZodType, Answer extends z.ZodType>(
  route: Route<Path, Query, z.ZodUndefined, Answer>,
  asked: { params?: ParamsOf<Path>; query?: z.input<Query> } | null = {},
  more: SWRConfiguration = {},
): SWRResponse<z.output<Answer>, Error> {
  return useSWR<z.output<Answer>, Error>(
    asked && keyOf(route, asked.params, asked.query as object | undefined),
    () => call(route as unknown as Route<string, z.ZodType, z.ZodUndefined, Answer>, asked as never),
    more,
  );
}
