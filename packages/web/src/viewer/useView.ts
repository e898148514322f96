import { useMemo } from 'react';
import { isAsItIs } from '@wraithos/core/render';
import { backdropOf, type View } from '../state/frameCache';
import { usePreferences } from '../state/preferences';
import { useShot } from '../state/shotStore';
import type { StepDefinition } from '../steps/describe';

/** What the picture shows in a step; the same object for as long as it is the same. */
export function useView(step: StepDefinition): View {
  // With another backdrop every picture is another one.
  usePreferences((p) => p.backdrop);
  const text = useShot((state) => {
    const shot = state.live ?? state.shot;
    return JSON.stringify({
      factor: state.factor,
      ...step.view(state),
      ...(shot ? { backdrop: backdropOf(shot) } : {}),
      ...(isAsItIs(state.look) ? {} : { look: state.look }),
      ...(state.compare ? { compare: state.compare } : {}),
    } satisfies View);
  });
  return useMemo(() => JSON.parse(text) as View, [text]);
}
