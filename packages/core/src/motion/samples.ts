import { z } from 'zod';
import { sampleStates } from './pointTracker';

/** Samples of a track as they are stored and sent: one for each frame that was looked at, places null where nothing was found. */
export const sampleSchema = z.object({
  frame: z.number().int(),
  x: z.number().finite().nullable(),
  y: z.number().finite().nullable(),
  rotation: z.number().finite(),
  scale: z.number().finite(),
  confidence: z.number().min(0).max(1),
  state: z.enum(sampleStates),
});
export const samplesSchema = z.array(sampleSchema).max(100_000);
