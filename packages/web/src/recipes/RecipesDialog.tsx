import { Download, PenLine, Trash2, Upload } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { effectOf, effects, laneTitles, type Lane } from '@wraithos/core/effects';
import { checkShot } from '@wraithos/core/render';
import { ownRecipes, rowFromRecipe, type Recipe } from '@wraithos/core/recipes';
import { freshId, freshName, hangRow, applyEdit, subjectFor, type Row, type Shot } from '@wraithos/core/shot';
import { listRecipes, removeRecipe, renameRecipe, type SavedRecipe } from '@wraithos/contract';
import { call } from '../api/client';
import { useRoute } from '../api/useRoute';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { NameDialog } from '../ui/NameDialog';
import { exportRecipe, importRecipe, keepRecipe } from './saved';
import { useTracks } from '../workbench/tracks';
import { aboutRow, LivePicture } from './LivePicture';

/** Frames after the beginning of a row at which its picture shows what it does. */
const INTO = 14;

/** The shot with a recipe on it, the row's id, and a frame at which to look. */
function tried(
  shot: Shot,
  recipe: Recipe,
  lane: Lane,
  subject: string | null,
  track: string | null,
  frame: number,
): { shot: Shot; row: Row; look: number } | null {
  try {
    const id = freshId(shot.rows, 'r'),
      able = effectOf(recipe.effect)?.lanes.includes(lane),
      row = rowFromRecipe(shot, able ? { ...recipe, lane } : recipe, {
        id,
        subject: subjectFor(shot, subject)?.id ?? null,
        mount: null,
        frame,
      }),
      usesMount = Object.values(effectOf(recipe.effect)!.inputs).some((i) => i.kind === 'mount'),
      placed = { ...shot, rows: { ...shot.rows, [id]: { ...row, name: freshName(shot.rows, row.name) } } };
    let hung = usesMount && track ? applyEdit(placed, hangRow(id, track)).shot : placed;
    const other = Object.keys(shot.tracks).find((t) => t !== track);
    if ('aim' in effectOf(recipe.effect)!.inputs) {
      const mount = other ? Object.values(hung.mounts).find((m) => m.track === other) : undefined;
      hung = mount
        ? { ...hung, rows: { ...hung.rows, [id]: { ...hung.rows[id]!, aim: mount.id } } }
        : { ...hung, rows: { ...hung.rows, [id]: { ...hung.rows[id]!, values: { ...hung.rows[id]!.values, to: 'a place' } } } };
    }
    const made = hung.rows[id] as Row;
    return { shot: hung, row: made, look: Math.max(frame, Math.min(shot.last, made.start + Math.min(INTO, made.length - 1))) };
  } catch {
    return null;
  }
}

/** Recipes as they look on this very shot: ours and the saved ones, to be used, saved as files, renamed. */
export function RecipesDialog({ lane, subject, onClose }: { lane: Lane; subject: string | null; onClose(): void }) {
  const shot = useDocument(),
    { selection, edit, set, frame } = useParts('selection', 'edit', 'set', 'frame'),
    { data: saved, mutate } = useRoute(listRecipes),
    fitting = Object.values(effects).filter((e) => e.lanes.includes(lane)),
    [type, setType] = useState(fitting[0]!.type),
    [renamed, setRenamed] = useState<SavedRecipe | null>(null),
    file = useRef<HTMLInputElement>(null),
    tracks = useTracks(),
    track = selection?.kind === 'track' ? selection.id : (Object.keys(shot.tracks)[0] ?? null);
  const tell = (notice: string) => set({ notice });
  const rename = (id: string, name: string) =>
    call(renameRecipe, { params: { id }, body: { name } }).then(
      () => mutate(),
      (error: Error) => tell(error.message),
    );
  const entries = useMemo(() => {
    const list = [
      ...(saved ?? [])
        .filter((s) => s.recipe.effect === type)
        .map((s) => ({ recipe: { ...s.recipe, name: s.name }, kept: s as SavedRecipe | null })),
      ...ownRecipes.filter((r) => r.effect === type).map((recipe) => ({ recipe, kept: null as SavedRecipe | null })),
    ];
    return list.map((entry) => {
      const on = tried(shot, entry.recipe, lane, subject, track, frame);
      // Why its picture shows nothing of it: no matte, no track.
      return { ...entry, on: on && { ...on, problem: checkShot(on.shot, tracks).find((c) => c.row === on.row.id && !c.track)?.text } };
    });
  }, [saved, type, shot, lane, subject, track, tracks, frame]);
  const use = (made: { shot: Shot; row: Row }) => {
    edit({
      name: 'Use recipe',
      apply(s) {
        for (const [id, mount] of Object.entries(made.shot.mounts)) if (!s.mounts[id]) s.mounts[id] = mount;
        s.rows[made.row.id] = made.row;
      },
    });
    set({ selection: { kind: 'row', id: made.row.id } });
    onClose();
  };
  return (
    <>
      <Modal show onHide={onClose} size="xl" centered scrollable aria-label="Recipes">
        <Modal.Header closeButton>
          <Modal.Title as="h2" className="fs-5">
            Recipes for {laneTitles[lane]}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <div className="d-flex align-items-center gap-2 mb-3">
            <Form.Select size="sm" aria-label="Effect" style={{ width: 220 }} value={type} onChange={(e) => setType(e.target.value)}>
              {fitting.map((e) => (
                <option key={e.type} value={e.type}>
                  {e.title}
                </option>
              ))}
            </Form.Select>
            <span className="quiet flex-grow-1">
              As they look on this shot, on {track ? shot.tracks[track]!.name : 'no track'}, soon after this frame.
            </span>
            <Button size="sm" variant="quiet" onClick={() => file.current!.click()}>
              <Upload size={14} /> Bring in a recipe
            </Button>
            <input
              ref={file}
              type="file"
              hidden
              accept="application/json,.json"
              aria-label="Recipe file"
              onChange={(e) => {
                const chosen = e.target.files?.[0];
                e.target.value = '';
                if (chosen) void importRecipe(chosen, tell);
              }}
            />
          </div>
          <div className="recipes">
            {entries.length === 0 && (
              <p className="quiet">No recipes for this effect yet. Shape one, then save it with the bookmark in its settings.</p>
            )}
            {entries.map(({ recipe, kept, on }) => (
              <div key={kept?.id ?? recipe.name} className="recipe">
                <button type="button" className="recipe-use" aria-label={`Use ${recipe.name}`} disabled={!on} onClick={() => on && use(on)}>
                  {on ? (
                    <LivePicture
                      shot={on.shot}
                      frame={on.look}
                      about={aboutRow(on.shot, tracks, on.row.id, on.look)}
                      width={208}
                      height={117}
                    />
                  ) : (
                    <span className="quiet">Made by another version; it cannot be used here.</span>
                  )}
                  <span className="text-truncate d-block">{recipe.name}</span>
                  {on?.problem && <span className="warn d-block recipe-problem">! {on.problem}</span>}
                </button>
                <div className="d-flex align-items-center">
                  <span className="quiet flex-grow-1">{kept ? 'saved' : 'comes with Wraithos'}</span>
                  <IconButton small label={`Save ${recipe.name} as a file`} onClick={() => exportRecipe(recipe)}>
                    <Download size={13} />
                  </IconButton>
                  {kept && (
                    <>
                      <IconButton small label={`Rename ${recipe.name}`} onClick={() => setRenamed(kept)}>
                        <PenLine size={13} />
                      </IconButton>
                      <IconButton
                        small
                        label={`Remove ${recipe.name}`}
                        onClick={() =>
                          void call(removeRecipe, { params: { id: kept.id } }).then(
                            () => {
                              void mutate();
                              set({
                                notice: {
                                  text: `Removed the recipe ${kept.name}.`,
                                  action: {
                                    label: 'Undo',
                                    run: () => {
                                      set({ notice: null });
                                      void keepRecipe({ ...kept.recipe, name: kept.name }, tell);
                                    },
                                  },
                                },
                              });
                            },
                            (error: Error) => tell(error.message),
                          )
                        }
                      >
                        <Trash2 size={13} />
                      </IconButton>
                    </>
                  )}
                </div>
              </div>
            ))}
          </div>
        </Modal.Body>
      </Modal>
      {renamed && (
        <NameDialog
          title="Rename recipe"
          label="Name"
          start={renamed.name}
          confirm="Rename"
          onDone={(name) =>
            void rename(renamed.id, name).then(() =>
              set({
                notice: {
                  text: `${renamed.name} is now called ${name}.`,
                  action: {
                    label: 'Undo',
                    run: () => {
                      set({ notice: null });
                      void rename(renamed.id, renamed.name);
                    },
                  },
                },
              }),
            )
          }
          onClose={() => setRenamed(null)}
        />
      )}
    </>
  );
}
