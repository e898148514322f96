import { z } from 'zod';
import { flag } from './common';
import { jobSummary } from './jobs';
import { route } from './route';
import { sentFiles } from './uploads';

const options = z.object({ media: flag.default(true), renders: flag.default(false) });
/** Archives (zip): of everything, of a shot, of a production. */
export const getBackup = route({ method: 'GET', path: '/backup', query: options });
export const shotBundle = route({ method: 'GET', path: '/shots/:id/bundle', query: options });
export const productionBundle = route({ method: 'GET', path: '/productions/:id/bundle', query: options });
/** An archive, which was sent before (see uploads.ts); a job takes it over. */
export const sendBundle = route({ method: 'POST', path: '/bundles', body: sentFiles, answer: jobSummary, status: 202 });
