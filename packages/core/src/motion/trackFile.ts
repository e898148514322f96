import Papa from 'papaparse';
import { z } from 'zod';
import { kindsOfTrack } from './kinds';
import type { TrackSample } from './pointTracker';
import { sampleSchema, samplesSchema } from './samples';

/** A track as it is carried in a file: its name, its kind, and where it was on every frame of its clip, counted from 0. */
export interface CarriedTrack {
  name: string;
  kind: string;
  samples: TrackSample[];
}

const carriedSchema = z.object({
  kind: z.literal('wraithos tracks'),
  version: z.literal(1),
  tracks: z.array(z.object({ name: z.string().min(1).max(200), kind: z.string(), samples: samplesSchema })).min(1),
});
/** What `wraith track` writes, and samples alone. */
const bareSchema = z.union([z.object({ mode: z.string(), samples: samplesSchema }), samplesSchema]);

const CORNERS = ['x1', 'y1', 'x2', 'y2', 'x3', 'y3', 'x4', 'y4'] as const,
  COLUMNS = ['track', 'kind', 'frame', 'x', 'y', 'rotation', 'scale', 'confidence', 'state', ...CORNERS];

/** Tracks as JSON text (see docs/formats.md). */
export const tracksAsJson = (tracks: readonly CarriedTrack[]): string =>
  JSON.stringify({ kind: 'wraithos tracks', version: 1, tracks }, null, 1);

/** Tracks as a table, one line for each frame of each; places are empty where it was lost. */
export const tracksAsCsv = (tracks: readonly CarriedTrack[]): string =>
  Papa.unparse({
    fields: COLUMNS,
    data: tracks.flatMap(({ name, kind, samples }) =>
      samples.map((s) => [
        ...[name, kind, s.frame, s.x, s.y, s.rotation, s.scale, s.confidence, s.state],
        ...(s.corners?.flat() ?? CORNERS.map(() => null)),
      ]),
    ),
  });

/**
 * Tracks from the text of a file: JSON as it is written here or by `wraith track`, or a table with at least the columns frame, x and y.
 * @param name of the file: it names a track that has no name of its own.
 * @throws an Error for people: what is wrong, and on which line.
 */
export function readTracks(text: string, name: string): CarriedTrack[] {
  const own = name.replace(/\.\w+$/, '') || 'Track';
  if (!/^\s*[[{]/.test(text)) return fromTable(text, own);
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    throw new Error('This is neither JSON nor a table of comma-separated values. Nothing was changed.');
  }
  const carried = carriedSchema.safeParse(data);
  if (carried.success)
    return carried.data.tracks.map((track) => ({ ...track, samples: inOrder(track.samples as TrackSample[], track.name) }));
  const bare = bareSchema.safeParse(data);
  if (!bare.success) throw new Error('This JSON holds no tracks: it wants a list of samples with frame, x and y. Nothing was changed.');
  const { mode, samples } = Array.isArray(bare.data) ? { mode: 'point', samples: bare.data } : bare.data;
  return [{ name: own, kind: kindOf(mode), samples: inOrder(samples as TrackSample[], own) }];
}
const kindOf = (kind: string): string => ((kindsOfTrack as readonly string[]).includes(kind) ? kind : 'point');

/** In order of frames, each once. */
function inOrder(samples: readonly TrackSample[], name: string): TrackSample[] {
  const sorted = [...samples].sort((a, b) => a.frame - b.frame),
    twice = sorted.find((s, i) => s.frame === sorted[i + 1]?.frame);
  if (twice) throw new Error(`${name} has frame ${twice.frame} twice. Nothing was changed.`);
  if (!sorted.some((s) => s.x !== null)) throw new Error(`${name} has no place on any frame. Nothing was changed.`);
  return sorted;
}

function fromTable(text: string, own: string): CarriedTrack[] {
  const { data, meta } = Papa.parse<Record<string, string>>(text.trim(), {
      header: true,
      skipEmptyLines: 'greedy',
      transformHeader: (h) => h.trim().toLowerCase(),
    }),
    fields = meta.fields ?? [],
    absent = ['frame', 'x', 'y'].filter((f) => !fields.includes(f));
  if (absent.length)
    throw new Error(
      `The first line of the table wants the columns frame, x and y; ${absent.join(' and ')} is missing. Nothing was changed.`,
    );
  const tracks = new Map<string, CarriedTrack>();
  data.forEach((row, i) => {
    const line = i + 2,
      number = (field: string, usual: number | null): number | null => {
        const given = row[field]?.trim() ?? '';
        if (given === '') return usual;
        const value = Number(given);
        if (!Number.isFinite(value)) throw new Error(`Line ${line}: ${field} wants a number, not "${given}". Nothing was changed.`);
        return value;
      },
      x = number('x', null),
      y = number('y', null),
      corners = CORNERS.map((c) => number(c, null)),
      placed = x !== null && y !== null,
      sample = sampleSchema.safeParse({
        ...{ frame: number('frame', null), x: placed ? x : null, y: placed ? y : null },
        ...{ rotation: number('rotation', 0), scale: number('scale', 1), confidence: number('confidence', placed ? 1 : 0) },
        state: row.state?.trim() || (placed ? 'good' : 'lost'),
        ...(placed && corners.every((c) => c !== null) ? { corners: [0, 1, 2, 3].map((c) => [corners[2 * c], corners[2 * c + 1]]) } : {}),
      });
    if (!sample.success) {
      const [issue] = sample.error.issues;
      throw new Error(
        `Line ${line}: ${String(issue!.path[0])} is not right ("${row[String(issue!.path[0])] ?? ''}"). Nothing was changed.`,
      );
    }
    const name = row.track?.trim() || own,
      track = tracks.get(name) ?? { name, kind: kindOf(row.kind?.trim() || (sample.data.corners ? 'plane' : 'point')), samples: [] };
    tracks.set(name, track);
    track.samples.push(sample.data as TrackSample);
  });
  if (!tracks.size) throw new Error('The table has no lines below its columns. Nothing was changed.');
  return [...tracks.values()].map((track) => ({ ...track, samples: inOrder(track.samples, track.name) }));
}
