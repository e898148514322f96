import { carriageParams } from '@wraithos/core/motion';
import { carryRow, type Mount } from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { Fold } from './fields';
import { ParamFields, plainTarget } from './ParamFields';

/** How an effect is carried by what it hangs on; what is not as usual is read without opening it. */
export function Carried({ row, mount }: { row: string; mount: Mount }) {
  const { frame } = useParts('frame'),
    told = Object.entries(carriageParams).flatMap(([name, p]) => {
      const value = mount[name as keyof typeof carriageParams];
      return value === p.default || name === 'heldAt' ? [] : [p.kind === 'choice' ? String(value) : p.title.toLowerCase()];
    });
  return (
    <Fold title={told.length ? `Carried: ${told.join(', ')}` : 'How it is carried'}>
      <ParamFields
        params={carriageParams}
        title=""
        target={plainTarget(carriageParams, mount, (name, value) =>
          // It stands where it is now.
          carryRow(row, { [name]: value, ...(name === 'time' ? { heldAt: frame } : {}) }),
        )}
      />
    </Fold>
  );
}
