import { z } from 'zod';
import { cameras } from '@wraithos/core/plate';
import { alphaModes, formatNames } from '@wraithos/core/render';
import { madePlateSchema } from '@wraithos/core/shot';
import { hash, mediumInfo, moment } from './common';
import { route } from './route';

export const jobKinds = ['import', 'plate', 'render', 'unpack'] as const;
export const jobStates = ['waiting', 'running', 'done', 'failed', 'cancelled', 'parked'] as const;
export type JobKind = (typeof jobKinds)[number];
export type JobState = (typeof jobStates)[number];
/** True for a job that will not go on by itself. */
export const isOver = (state: JobState): boolean => state !== 'waiting' && state !== 'running';

export const jobSummary = z.object({
  id: z.string(),
  kind: z.enum(jobKinds),
  state: z.enum(jobStates),
  title: z.string(),
  shot: z.string().nullable(),
  done: z.number(),
  total: z.number(),
  secondsLeft: z.number().nullable(),
  message: z.string(),
  /** What it made; each kind of job has a schema of its own for it. */
  result: z.record(z.string(), z.unknown()).nullable(),
  /** What it is making, while it runs and part of that can be seen already. */
  coming: z.record(z.string(), z.unknown()).nullable().default(null),
  /** What was asked for, of a render. */
  input: z.object({ format: z.enum(formatNames).optional(), first: z.number().optional(), last: z.number().optional() }),
  created: moment,
});
export type JobSummary = z.infer<typeof jobSummary>;

/** What a render has made. Cost is milliseconds a frame, by the names of effects. */
export const rendered = z.looseObject({
  file: z.string(),
  bytes: z.number(),
  frames: z.number(),
  millisecondsPerFrame: z.number(),
  cost: z.record(z.string(), z.number()),
});
/** What an archive has brought in. */
export const takenOver = z.looseObject({
  shots: z.array(z.string()),
  same: z.number(),
  media: z.number(),
  recipes: z.number(),
  renders: z.number(),
});
export type TakenOver = z.infer<typeof takenOver>;

export const listJobs = route({
  method: 'GET',
  path: '/jobs',
  query: z.object({ shot: z.string().optional() }),
  answer: z.array(jobSummary),
});
export const getJob = route({ method: 'GET', path: '/jobs/:id', answer: jobSummary });
/** Brings the frames of a finished render in as a clip, to compare with; a job reads them. */
export const clipOfRender = route({ method: 'POST', path: '/jobs/:id/clip', answer: jobSummary, status: 202 });
/** Renders a range of frames (all of them where nothing is said) of a shot's newest revision. */
export const startRender = route({
  method: 'POST',
  path: '/jobs',
  body: z.object({
    shot: z.string(),
    format: z.enum(formatNames),
    first: z.number().int().optional(),
    last: z.number().int().optional(),
    factor: z.union([z.literal(1), z.literal(2), z.literal(4)]).default(1),
    /** Alpha in the files, where the format can carry it. */
    alpha: z.enum(alphaModes).default('none'),
    /** What of the shot: all, base, effects, lane:NAME, row:ID or matte:ID. */
    only: z.string().max(80).default('all'),
    /** Code, frame and revision are written into each picture. */
    burn: z.boolean().default(false),
  }),
  answer: jobSummary,
  status: 202,
});
/** What was built: the medium, how it came to be, and a picture of what is unsure in it. */
export const builtPlate = z.object({ hash, info: mediumInfo, made: madePlateSchema });
export type BuiltPlateAnswer = z.infer<typeof builtPlate>;
/** Builds the clean plate of a clip of a shot, from the shot's newest revision. */
export const startPlate = route({
  method: 'POST',
  path: '/plates',
  body: z.object({
    shot: z.string(),
    clip: z.string(),
    camera: z.enum(cameras).default('measured'),
    flicker: z.boolean().default(true),
    grain: z.boolean().default(false),
    /** First and last frame of the clip that are looked at; all of them where nothing is said. */
    first: z.number().int().min(0).optional(),
    last: z.number().int().min(0).optional(),
    /** The matte of what is left out. */
    matte: z.string().nullable().default(null),
  }),
  answer: jobSummary,
  status: 202,
});
/** Takes a job up again that failed, was cancelled or parked. */
export const tryAgain = route({ method: 'POST', path: '/jobs/:id/again', answer: jobSummary });
export const cancelJob = route({ method: 'DELETE', path: '/jobs/:id', answer: jobSummary });
/** The file that a render has made. */
export const jobFile = route({ method: 'GET', path: '/jobs/:id/file', query: z.object({ play: z.string().optional() }) });
