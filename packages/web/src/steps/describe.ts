import type { ComponentType } from 'react';
import type { Check, Tracks } from '@wraithos/core/render';
import type { TimeScale } from '../cues/scale';
import type { View } from '../state/frameCache';
import type { Selection, ShotState } from '../state/shotStore';
import type { Space } from '../viewer/space';

export type SelectionKind = NonNullable<Selection>['kind'];

/**
 * A step of the work, as one object: what its list, its picture, its time area and its settings are. The workbench, the viewer and the strip know no
 * step by its name; adding one touches its file and one line of the register.
 */
export interface StepDefinition {
  /** Its address: `/shots/:id/<id>`. */
  id: string;
  title: string;
  /** One sentence of what is done in it, for help. */
  about: string;
  /** What to do first, where nothing that belongs to it is selected. */
  hint: string;
  /** Takes the whole page in place of list, picture, settings and time. */
  Page?: ComponentType;
  /** What stands at the left. */
  List?: ComponentType;
  /** Kinds of entities whose settings belong to it, at the right. */
  settles: readonly SelectionKind[];
  /** Handles on the picture. */
  Overlay?: ComponentType<{ space: Space }>;
  /** What is dropped on the picture becomes an element: clips and elements of the stockroom, or files too. */
  places?: 'clips' | 'files too';
  /** Buttons of its own beside the picture. */
  Rail?: ComponentType;
  /** A line over the picture, where there is something to say. */
  word?(state: ShotState): string | null;
  /** Under the filmstrip, and at its left. */
  Time?: ComponentType<{ x: TimeScale; width: number }>;
  Beside?: ComponentType;
  /** How far what is held still has moved at a frame, whole-shot pixels: the picture is shown that much the other way. Null where nothing is held. */
  still?(state: Pick<ShotState, 'shot' | 'selection' | 'holdStill'>, tracks: Tracks, frame: number): readonly [number, number] | null;
  /** What of the shot the picture shows. */
  view(
    state: Pick<ShotState, 'shot' | 'live' | 'selection' | 'matteView' | 'matteGround' | 'upToSelected' | 'skin'>,
  ): Pick<View, 'upTo' | 'plain' | 'matte' | 'skin'>;
  /** How mattes are shown when one comes to it. */
  matteView?: ShotState['matteView'];
  /** How many checks point into it, and what that means; shown beside its title. */
  count?(checks: readonly Check[]): { number: number; meaning: string } | null;
}

/** The base alone, without any effect: what tracks and mattes are made from. */
export const plainView = { upTo: null, plain: true, matte: null } as const;
