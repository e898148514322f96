import { lanes, laneTitles, type Lane } from '../effects';
import type { Shot } from '../shot/schema';

/**
 * What of a shot is drawn into files: all of it; the base without any effect; effects without the base; one lane or one effect alone, without the base;
 * or a matte, as grey.
 */
export type Pass = 'all' | 'base' | 'effects' | `lane:${Lane}` | `row:${string}` | `matte:${string}`;

/** The shot without what stands on its own: takes and background of the base. */
const withoutBase = (shot: Shot): Shot => ({
  ...shot,
  // Grain belongs to the picture that they are laid on.
  base: {
    takes: [],
    ground: { clip: null, values: { ...shot.base.ground.values, ground: 'nothing' } },
    match: { ...shot.base.match, grain: 0 },
  },
});
const withRows = (shot: Shot, keep: (row: Shot['rows'][string]) => boolean): Shot => ({
  ...shot,
  rows: Object.fromEntries(Object.entries(shot.rows).filter(([, row]) => keep(row))),
});
const alone = (shot: Shot, keep: (row: Shot['rows'][string]) => boolean): Shot => {
  const bare = withoutBase(withRows(shot, keep));
  // Who was detached stands in no pass of effects; it still holds them out where they are behind it.
  return { ...bare, subjects: Object.fromEntries(Object.entries(bare.subjects).map(([id, s]) => [id, { ...s, detached: false }])) };
};

/**
 * The document that draws a pass, and the matte that is written in its place.
 * @throws Error in words for people where the pass names what is not there.
 */
export function passOf(shot: Shot, pass: string): { shot: Shot; matte: string | null } {
  const [kind, id = ''] = pass.split(/:(.*)/s) as [string, string?];
  switch (kind) {
    case 'all':
      return { shot, matte: null };
    case 'base':
      return { shot: withRows({ ...shot, occluders: {} }, () => false), matte: null };
    case 'effects':
      return { shot: withoutBase(shot), matte: null };
    case 'lane':
      if (!(lanes as readonly string[]).includes(id)) break;
      return { shot: alone(shot, (row) => row.lane === id), matte: null };
    case 'row':
      if (!Object.hasOwn(shot.rows, id)) break;
      return { shot: alone(shot, (row) => row.id === id), matte: null };
    case 'matte':
      if (!Object.hasOwn(shot.mattes, id)) break;
      return { shot, matte: id };
  }
  throw new Error(
    `There is no pass "${pass}" in this shot. There are: ${passesOf(shot)
      .map((p) => p.pass)
      .join(', ')}.`,
  );
}

/** All passes of a shot, with words for people. */
export function passesOf(shot: Shot): { pass: Pass; title: string }[] {
  const rows = Object.values(shot.rows),
    used = lanes.filter((lane) => rows.some((row) => row.lane === lane));
  return [
    { pass: 'all', title: 'The whole picture' },
    { pass: 'base', title: 'The base without effects' },
    { pass: 'effects', title: 'All effects, without the base' },
    ...used.map((lane) => ({ pass: `lane:${lane}` as const, title: `Lane ${laneTitles[lane]} alone` })),
    ...rows.map((row) => ({ pass: `row:${row.id}` as const, title: `${row.name} alone` })),
    ...Object.values(shot.mattes).map((matte) => ({ pass: `matte:${matte.id}` as const, title: `Matte ${matte.name}` })),
  ];
}
