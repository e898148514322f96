import type { Draft } from 'immer';
import {
  mirroredKeys,
  withKey,
  withKeyAt,
  withoutKey,
  withoutVertices,
  withVertex,
  type KeyEasing,
  type OutlineKey,
} from '../matte/outlineKeys';
import { brokenKeys, joinedKeys, simplifiedKeys } from '../matte/outlineParts';
import type { Vertex } from '../matte/vertex';
import { freshId, freshName, newOutline } from './create';
import { edit, type Edit } from './edit';
import { dropIdleMount, mountOn } from './hang';
import type { Outline, OutlineMode, Shot } from './editTypes';

/** Edits of the outlines of mattes. Frames are those of the matte's clip; vertices are stored as they stood at the outline's `mountFrame`. */

type OutlineDraft = Draft<Shot>['mattes'][string]['outlines'][number];
const outlineOf = (s: Draft<Shot>, matte: string, id: string): OutlineDraft => s.mattes[matte]!.outlines.find((o) => o.id === id)!;
const keysOf = (s: Draft<Shot>, matte: string, id: string): OutlineKey[] => outlineOf(s, matte, id).keys as OutlineKey[];
const changeKeys = (name: string, matte: string, id: string, change: (keys: readonly OutlineKey[]) => OutlineKey[]): Edit =>
  edit(name, (s) => {
    outlineOf(s, matte, id).keys = change(keysOf(s, matte, id));
  });

/** Draws an outline on a frame of its clip: corners, or vertices with handles. */
export const addOutline = (
  matte: string,
  mode: OutlineMode,
  points: readonly (readonly [number, number] | Vertex)[],
  feather?: number,
  frame = 0,
): Edit =>
  edit('Draw outline', (s) => {
    const { outlines } = s.mattes[matte]!;
    outlines.push(newOutline({ id: freshId(outlines, 'o'), name: freshName(outlines, 'Outline'), mode, points, feather, frame }));
  });
export const changeOutline = (matte: string, id: string, change: Partial<Pick<Outline, 'name' | 'mode' | 'muted' | 'solo'>>): Edit =>
  edit('Change outline', (s) => {
    Object.assign(outlineOf(s, matte, id), change);
  });
export const removeOutline = (matte: string, id: string): Edit =>
  edit('Remove outline', (s) => {
    const m = s.mattes[matte]!,
      mount = outlineOf(s, matte, id).mount;
    m.outlines = m.outlines.filter((o) => o.id !== id);
    if (mount) dropIdleMount(s, mount);
  });
/** A second outline like it, with all its keys; mirrored left to right about a line of the picture where one is given. */
export const copyOutline = (matte: string, id: string, mirroredAbout: number | null = null): Edit =>
  edit(mirroredAbout === null ? 'Copy outline' : 'Mirror outline', (s) => {
    const { outlines } = s.mattes[matte]!,
      from = outlineOf(s, matte, id),
      keys = from.keys as OutlineKey[];
    outlines.splice(outlines.indexOf(from) + 1, 0, {
      ...from,
      id: freshId(outlines, 'o'),
      name: freshName(outlines, from.name),
      keys: mirroredAbout === null ? keys : mirroredKeys(keys, mirroredAbout),
    });
  });

/** Sets an outline at a frame: a key is made there, or changed. `only` names the vertices that are set; none given sets all. */
export const setShape = (
  matte: string,
  id: string,
  frame: number,
  vertices: readonly Vertex[],
  only: ReadonlySet<number> | null = null,
): Edit => changeKeys('Move outline', matte, id, (keys) => withKey(keys, frame, vertices, only));
/** Puts keys in the place of all that there were: those of an outline that was carried on. */
export const setKeys = (matte: string, id: string, keys: readonly OutlineKey[]): Edit =>
  changeKeys('Carry outline on', matte, id, () => [...keys]);
export const removeKey = (matte: string, id: string, frame: number): Edit =>
  changeKeys('Remove key', matte, id, (keys) => withoutKey(keys, frame));
/** Moves a key to another frame; one that stands there already goes. */
export const moveKey = (matte: string, id: string, from: number, to: number): Edit =>
  changeKeys('Move key', matte, id, (keys) => withKeyAt(keys, from, to));
/** Puts the outline as it stands on one key on another frame too. */
export const copyKey = (matte: string, id: string, vertices: readonly Vertex[], to: number): Edit =>
  changeKeys('Copy key', matte, id, (keys) => withKey(keys, to, vertices));
export const easeKey = (matte: string, id: string, frame: number, ease: KeyEasing): Edit =>
  changeKeys('Change easing', matte, id, (keys) => keys.map((k) => (k.frame === frame ? { ...k, ease } : k)));
/** Adds a vertex at a share of the way from one to the next, on every key. */
export const addVertex = (matte: string, id: string, after: number, share: number): Edit =>
  changeKeys('Add point', matte, id, (keys) => withVertex(keys, after, share));
export const removeVertices = (matte: string, id: string, gone: ReadonlySet<number>): Edit =>
  changeKeys(gone.size === 1 ? 'Remove point' : 'Remove points', matte, id, (keys) => withoutVertices(keys, gone));

/**
 * Lets an outline ride on a track, with what it stands on at a frame of its clip, or (null) on nothing.
 * @param keys the outline as it then is stored, so that it stays where it stands (see `keysRiding`).
 */
export const rideOutline = (matte: string, id: string, track: string | null, frame: number, keys: readonly OutlineKey[]): Edit =>
  edit(track ? 'Let outline ride' : 'Let outline stand', (s) => {
    const outline = outlineOf(s, matte, id),
      was = outline.mount;
    outline.keys = [...keys];
    outline.mount = track ? mountOn(s, track) : null;
    outline.mountFrame = frame;
    if (was && was !== outline.mount) dropIdleMount(s, was);
  });

/** Takes vertices away that the outline's line does not need on any of its keys. @param off how far it may move, pixels. */
export const simplifyOutline = (matte: string, id: string, off: number): Edit =>
  changeKeys('Simplify outline', matte, id, (keys) => simplifiedKeys(keys, off));
/** Breaks an outline in two along the line between two of its vertices; the second half comes after it. Where a half would be no area, nothing changes. */
export const breakOutline = (matte: string, id: string, first: number, second: number): Edit =>
  edit('Break outline', (s) => {
    const { outlines } = s.mattes[matte]!,
      at = outlines.findIndex((o) => o.id === id),
      one = outlines[at]!,
      halves = brokenKeys(keysOf(s, matte, id), first, second);
    if (!halves) return;
    outlines.splice(at + 1, 0, { ...one, id: freshId(outlines, 'o'), name: freshName(outlines, one.name), keys: halves[1] });
    one.keys = halves[0];
  });
/** Joins another outline of the matte, which hangs on the same mount, to one, which keeps its name and values; the other goes. */
export const joinOutlines = (matte: string, id: string, other: string): Edit =>
  edit('Join outlines', (s) => {
    const one = s.mattes[matte]!;
    outlineOf(s, matte, id).keys = joinedKeys(keysOf(s, matte, id), keysOf(s, matte, other));
    one.outlines = one.outlines.filter((o) => o.id !== other);
  });
