import type { Arena } from '../image/arena';
import type { Step, Value } from './evaluate';
import { keyOf } from './key';

/** A step that follows from its inputs and a name for what is done with them; its value is not worth remembering. */
export const combine = (
  key: string,
  inputs: Step[],
  run: (values: Value, arena: Arena, owned: (i: number) => boolean) => Value,
  row?: string,
): Step => ({
  key: keyOf(
    key,
    inputs.map((i) => i.key),
  ),
  inputs,
  keep: 'never',
  row,
  run,
});
