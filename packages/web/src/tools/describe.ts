import type { ComponentType } from 'react';
import type { ShotState } from '../state/shotStore';
import type { Space } from '../viewer/space';

/**
 * A tool: what presses on the picture and keys do while it is in hand, as a small state machine. Its state is plain data in the store; each press or key
 * leads to the next state, or to null where the tool is done. Adding one touches its file and one line of the register.
 */
export interface ToolDefinition<K extends string = string, S extends object = object> {
  kind: K;
  /** What to do next, in a line over the picture. */
  hint(state: S): string;
  /** A press at a place of the picture, whole-shot pixels. */
  press(state: S, at: [number, number], now: ShotState): S | null;
  /** The pointer while it is held down after a press, and where it is lifted; for tools that paint. */
  drag?(state: S, at: [number, number], now: ShotState): S;
  lift?(state: S, now: ShotState): S | null;
  /** A key; undefined where it is none of the tool's. */
  key?(state: S, key: string, now: ShotState): S | null | undefined;
  /** What is drawn over the picture while it is in hand. */
  Overlay?: ComponentType<{ state: S; space: Space }>;
}
/** Declares a tool with a state of its own. */
export const tool =
  <S extends object>() =>
  <const K extends string>(definition: ToolDefinition<K, S>): ToolDefinition<K, S> =>
    definition;
