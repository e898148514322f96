import { ArrowDown, ArrowUp, Eye, EyeOff, Trash2 } from 'lucide-react';
import { Dropdown } from 'react-bootstrap';
import { effectOf, effects } from '@wraithos/core/effects';
import {
  addTreatment,
  changeTreatment,
  moveTreatment,
  removeTreatment,
  setTreatmentValue,
  treatmentTypes,
  type Treated,
  type Treatment,
} from '@wraithos/core/shot';
import { useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { FieldScope, Fold } from './fields';
import { ParamFields, plainTarget } from './ParamFields';
import { Menu } from '../ui/Menu';

/** What is done to a row's (or a group's) own pictures before they are laid on, in order. */
export function TreatmentSettings({ of, list }: { of: Treated; list: readonly Treatment[] }) {
  const { edit } = useParts('edit');
  return (
    <section aria-label="Treatments">
      <h3>Treatments</h3>
      {list.map((t, i) => {
        const effect = effectOf(t.effect);
        return (
          <FieldScope.Provider key={t.id} value={`${t.id} `}>
            <div className={`sub-block ${t.muted ? 'muted' : ''}`}>
              <div className="d-flex align-items-center">
                <strong className="flex-grow-1 text-truncate">{effect?.title ?? `${t.effect} (not known here)`}</strong>
                <IconButton
                  small
                  label={t.muted ? 'Unmute treatment' : 'Mute treatment'}
                  onClick={() => edit(changeTreatment(of, t.id, { muted: !t.muted }))}
                >
                  {t.muted ? <EyeOff size={14} /> : <Eye size={14} />}
                </IconButton>
                <IconButton small label="Move up" disabled={i === 0} onClick={() => edit(moveTreatment(of, t.id, -1))}>
                  <ArrowUp size={14} />
                </IconButton>
                <IconButton small label="Move down" disabled={i === list.length - 1} onClick={() => edit(moveTreatment(of, t.id, 1))}>
                  <ArrowDown size={14} />
                </IconButton>
                <IconButton small label="Remove treatment" onClick={() => edit(removeTreatment(of, t.id))}>
                  <Trash2 size={14} />
                </IconButton>
              </div>
              {effect && (
                <Fold title="Values">
                  <ParamFields
                    params={effect.params}
                    title=""
                    target={plainTarget(effect.params, t.values, (name, value) => setTreatmentValue(of, t.id, name, value))}
                  />
                </Fold>
              )}
            </div>
          </FieldScope.Provider>
        );
      })}
      <Dropdown>
        <Dropdown.Toggle size="sm" variant="quiet">
          Add a treatment
        </Dropdown.Toggle>
        <Menu>
          {treatmentTypes().map((type) => (
            <Dropdown.Item key={type} onClick={() => edit(addTreatment(of, type))}>
              {effects[type]!.title}
            </Dropdown.Item>
          ))}
        </Menu>
      </Dropdown>
    </section>
  );
}
