import { z } from 'zod';
import { jobKinds, jobStates } from './jobs';
import { diskLevels } from './room';

/** What happened, for every open page: ids and numbers, never a document. Whoever wants more asks for it. */
export const serverEvent = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('job'),
    id: z.string(),
    kind: z.enum(jobKinds),
    state: z.enum(jobStates),
    shot: z.string().nullable(),
    done: z.number(),
    total: z.number(),
    secondsLeft: z.number().nullable(),
    message: z.string(),
  }),
  z.object({ type: z.literal('shot'), id: z.string(), revision: z.number().int() }),
  z.object({ type: z.literal('shots') }),
  z.object({ type: z.literal('disk'), level: z.enum(diskLevels) }),
]);
export type ServerEvent = z.infer<typeof serverEvent>;
/** What an event says of a job: numbers and words, no result. */
export type JobNews = Omit<Extract<ServerEvent, { type: 'job' }>, 'type'>;
