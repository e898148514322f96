import { z } from 'zod';
import { sampleStates, type TrackSample } from './pointTracker';

const corner = z.tuple([z.number().finite(), z.number().finite()]);
/** Corners of a plane, clockwise from the top left one as it was drawn. */
export const cornersSchema = z.array(corner).length(4, 'wants four corners');
/** Samples of a track as they are stored and sent: one for each frame that was looked at, places null where nothing was found. */
export const sampleSchema = z.object({
  frame: z.number().int(),
  x: z.number().finite().nullable(),
  y: z.number().finite().nullable(),
  rotation: z.number().finite(),
  scale: z.number().finite(),
  corners: cornersSchema.optional(),
  confidence: z.number().min(0).max(1),
  state: z.enum(sampleStates),
});
export const samplesSchema = z.array(sampleSchema).max(100_000);

/** What a person set of a track on one frame: its place, and its turn (degrees), growth or corners where these were set too. */
export const correctionSchema = z.object({
  at: corner,
  turn: z.number().finite().optional(),
  growth: z.number().positive().finite().optional(),
  corners: cornersSchema.optional(),
});
export type Correction = z.infer<typeof correctionSchema>;
/** By clip frame. They win over what was measured, and are kept when the track is measured again. */
export type Corrections = Readonly<Record<string, Correction>>;

/** A sample of a frame on which the track was seen, or set. */
export type Placed = TrackSample & { x: number; y: number };
export const isPlaced = (s: TrackSample | undefined): s is Placed => s !== undefined && s.x !== null && s.y !== null;
