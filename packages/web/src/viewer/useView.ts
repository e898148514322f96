import type { View } from '../state/frameCache';
import { useShot } from '../state/shotStore';
import type { StepDefinition } from '../steps/describe';

/** What the picture shows in a step. */
export function useView(step: StepDefinition): View {
  const state = useShot();
  return { factor: state.factor, ...step.view(state) };
}
