import { z } from 'zod';
import { flag } from './common';
import { jobSummary } from './jobs';
import { route } from './route';

const options = z.object({ media: flag.default(true), renders: flag.default(false) });
/** Archives (zip): of everything, of a shot, of a production. */
export const getBackup = route({ method: 'GET', path: '/backup', query: options });
export const shotBundle = route({ method: 'GET', path: '/shots/:id/bundle', query: options });
export const productionBundle = route({ method: 'GET', path: '/productions/:id/bundle', query: options });
/** An archive, as a form with the field `files`; a job takes it over. */
export const sendBundle = route({ method: 'POST', path: '/bundles', answer: jobSummary, status: 202 });
