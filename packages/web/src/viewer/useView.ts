import { useMemo } from 'react';
import type { View } from '../state/frameCache';
import { useShot } from '../state/shotStore';
import type { StepDefinition } from '../steps/describe';

/** What the picture shows in a step; the same object for as long as it is the same. */
export function useView(step: StepDefinition): View {
  const text = useShot((state) => JSON.stringify({ factor: state.factor, ...step.view(state) } satisfies View));
  return useMemo(() => JSON.parse(text) as View, [text]);
}
