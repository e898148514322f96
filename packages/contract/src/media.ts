import { z } from 'zod';
import { samplesSchema } from '@wraithos/core/motion';
import { hash, mediumInfo } from './common';
import { jobSummary } from './jobs';
import { route } from './route';
import { sentFiles } from './uploads';

/** What an import has made; `note` says what is different from what was expected, and is empty otherwise. */
export const imported = z.object({ hash, name: z.string(), info: mediumInfo, note: z.string() });
export type Imported = z.infer<typeof imported>;

/** Files of one medium, which were sent before (see uploads.ts); a job reads them. */
export const sendMedium = route({ method: 'POST', path: '/media', body: sentFiles, answer: jobSummary, status: 202 });
/** One frame as raw codes; see frames.ts. */
export const mediumFrame = route({ method: 'GET', path: '/media/:hash/frames/:frame' });
export const keepSamples = route({
  method: 'POST',
  path: '/samples',
  body: samplesSchema,
  answer: z.object({ hash }),
  status: 201,
});
export const trackSamples = route({ method: 'GET', path: '/samples/:hash', answer: samplesSchema });
