import { FlipHorizontal2, Scissors, Trash2 } from 'lucide-react';
import { effectOf, type StoredValue } from '@wraithos/core/effects';
import { otherSide } from '@wraithos/core/motion';
import { addTwin, changeTwin, expandRow, freshId, partTwin, removeTwin, setTwinValue, type Row } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { ChoiceField, FieldScope, Fold } from './fields';
import { ParamFields, type ParamTarget } from './ParamFields';

/** The other places where a row stands: twins share its values but for those that are their own. */
export function TwinSettings({ row }: { row: Row }) {
  const shot = useDocument(),
    { edit, set } = useParts('edit', 'set'),
    effect = effectOf(row.effect)!,
    usesAim = Object.values(effect.inputs).some((i) => i.kind === 'aim'),
    tracks = Object.values(shot.tracks),
    words = Object.fromEntries(tracks.map((t) => [t.id, t.name])),
    trackOf = (mount: string | null) => (mount ? (shot.mounts[mount]?.track ?? '') : '');
  // What a twin has without values of its own: mirrored, and with its own seed.
  const drawn = expandRow(shot, { ...row, twins: row.twins.map((t) => ({ ...t, values: {} })) });
  const used = [row.mount, ...row.twins.map((w) => w.mount)].map(trackOf),
    unused = tracks.filter((t) => !used.includes(t.id)),
    own = shot.tracks[trackOf(row.mount)],
    // The other eye first, where it hangs on one.
    across =
      own?.kind === 'face part'
        ? unused.find((t) => t.kind === 'face part' && t.pair === own.pair && t.part === otherSide(own.part))
        : undefined,
    free = across ?? unused[0] ?? tracks[0];
  return (
    <section aria-label="Twins">
      <h3>Twins</h3>
      {row.twins.map((twin, i) => {
        const target: ParamTarget = {
          values: { ...drawn[i + 1]!.values, ...twin.values } as Record<string, StoredValue>,
          usual: (name) => drawn[i + 1]!.values[name] as StoredValue,
          put: (name, value) => setTwinValue(row.id, twin.id, name, value),
          reset: (name) => setTwinValue(row.id, twin.id, name, null),
        };
        const own = Object.keys(twin.values).length;
        return (
          <FieldScope.Provider key={twin.id} value={`${twin.id} `}>
            <div className="sub-block">
              <div className="d-flex align-items-center">
                <strong className="flex-grow-1 text-truncate">{words[trackOf(twin.mount)] ?? 'nothing'}</strong>
                <IconButton
                  small
                  label={twin.mirrored ? 'Mirrored: offsets and directions of the other side' : 'Mirror offsets and directions'}
                  on={twin.mirrored}
                  onClick={() => edit(changeTwin(row.id, twin.id, { mirrored: !twin.mirrored }))}
                >
                  <FlipHorizontal2 size={14} />
                </IconButton>
                <IconButton
                  small
                  label="Separate into its own effect"
                  onClick={() => {
                    const id = freshId(shot.rows, 'r');
                    edit(partTwin(row.id, twin.id, id));
                    set({ selection: { kind: 'row', id } });
                  }}
                >
                  <Scissors size={14} />
                </IconButton>
                <IconButton small label="Remove twin" onClick={() => edit(removeTwin(row.id, twin.id))}>
                  <Trash2 size={14} />
                </IconButton>
              </div>
              <ChoiceField
                label="Hangs on"
                value={trackOf(twin.mount)}
                of={tracks.map((t) => t.id)}
                words={words}
                onChange={(track) => edit(changeTwin(row.id, twin.id, { track }))}
              />
              {usesAim && (
                <ChoiceField
                  label="Aims at"
                  value={trackOf(twin.aim)}
                  of={['', ...tracks.map((t) => t.id)]}
                  words={{ '': 'the same', ...words }}
                  onChange={(track) => edit(changeTwin(row.id, twin.id, { aim: track || null }))}
                />
              )}
              <Fold title={own ? `Its own values: ${own}` : 'Its own values'}>
                <ParamFields params={effect.params} target={target} title="" />
              </Fold>
            </div>
          </FieldScope.Provider>
        );
      })}
      {free ? (
        <button type="button" className="btn btn-quiet btn-sm" onClick={() => edit(addTwin(row.id, free.id, across !== undefined))}>
          Add a twin
        </button>
      ) : (
        <p className="quiet mb-1">Track something first: a twin hangs on a track.</p>
      )}
    </section>
  );
}
