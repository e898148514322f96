import { addTrack } from './addTrack';
import type { ToolDefinition } from './describe';
import { drawOutline } from './drawOutline';
import { followEdge } from './followEdge';
import { isolateBody } from './isolateBody';
import { drawShape } from './drawShape';
import { drawLine } from './drawLine';
import { paintMatte } from './paintMatte';
import { pickColour } from './pickColour';
import { pickPerson } from './pickPerson';
import { pickForEffect } from './pickForEffect';
import { repair } from './repair';
import { strokes } from './strokes';
import type { ToolInHand } from '../state/shotStore';

const register = {
  'add track': addTrack,
  'pick colour': pickColour,
  'pick for effect': pickForEffect,
  'draw outline': drawOutline,
  'draw shape': drawShape,
  isolate: isolateBody,
  'pick person': pickPerson,
  'follow edge': followEdge,
  strokes,
  'paint matte': paintMatte,
  'draw line': drawLine,
  repair,
};
/** Every tool by its kind. */
export const tools = register as unknown as Record<keyof typeof register, ToolDefinition>;

type StateOf<D> = D extends ToolDefinition<string, infer S> ? S : never;
type Kind = keyof typeof register;
/** Takes a tool in hand, in its first state. */
export const take = <K extends Kind>(kind: K, state: StateOf<(typeof register)[K]>): ToolInHand => ({ kind, state });
/** The state of a tool of this kind; null while another one, or none, is in hand. */
export const stateOf = <K extends Kind>(tool: ToolInHand | null, kind: K): StateOf<(typeof register)[K]> | null =>
  tool?.kind === kind ? (tool.state as StateOf<(typeof register)[K]>) : null;
/** The tool in hand and its definition; null while there is none. */
export const inHand = (tool: ToolInHand | null): { definition: ToolDefinition; state: object } | null =>
  tool && { definition: tools[tool.kind as Kind], state: tool.state };
/** A tool in its next state; null where it is done. */
export const onwards = (tool: ToolInHand, state: object | null): ToolInHand | null => state && { kind: tool.kind, state };
