import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Boxes, Plus } from 'lucide-react';
import { memo, useMemo, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { effectOf, effects, laneTitles, type Lane } from '@wraithos/core/effects';
import {
  addRow,
  addSubject,
  baseClip,
  changeRow,
  clipWithRole,
  freshId,
  ownClips,
  moveRow,
  rowsOf,
  subjectsInOrder,
  together,
  type Row,
  type Shot,
  type Subject,
} from '@wraithos/core/shot';
import { useDocument, useParts, useShot } from '../state/shotStore';
import { useDrawn } from '../state/useDrawn';
import { ThumbCanvas } from '../ui/ThumbCanvas';
import { RecipesDialog } from '../recipes/RecipesDialog';
import { useChecks } from '../workbench/useChecks';
import { LaneFigure } from './LaneFigure';
import { aboutRow, costWords, RowItem } from './RowItem';
import { suggestedValues } from '@wraithos/core/recipes';
import { Menu } from '../ui/Menu';
import './stack.css';

/** The drawn picture at the playhead, as soon as it is there. */
function useDrawnHere() {
  const { frame, factor } = useParts('frame', 'factor');
  return useDrawn(useDocument(), frame, { factor, upTo: null, plain: false, matte: null });
}

/** Everything in the shot from near (top) to far. Rows are dragged between lanes, which moves them in depth. */
export function DepthStack({ onStockroom }: { onStockroom(): void }) {
  const shot = useDocument(),
    { edit, set } = useParts('edit', 'set'),
    sensors = useSensors(
      useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
      // Enter selects, Space takes hold.
      useSensor(KeyboardSensor, {
        coordinateGetter: sortableKeyboardCoordinates,
        keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
      }),
    );
  const base = baseClip(shot),
    onBase = useShot((s) => s.selection?.kind === 'base'),
    clean = clipWithRole(shot, 'clean'),
    subjects = subjectsInOrder(shot).reverse(),
    performance = clipWithRole(shot, 'performance');
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const id = String(active.id),
      target = String(over.id),
      dragged = shot.rows[id] as Row,
      kind = effectOf(dragged.effect);
    let lane: Lane,
      subject: string | null,
      after: string | null = null;
    if (target.startsWith('lane:')) {
      const [, l, s] = target.split(':');
      lane = l as Lane;
      subject = s || null;
    } else {
      const other = shot.rows[target] as Row,
        rows = rowsOf(shot, other.lane, other.subject).filter((r) => r.id !== id),
        at = rows.findIndex((r) => r.id === target);
      lane = other.lane;
      subject = other.subject;
      // Rows run from far to near, the list from near to far: dropping on a row that lies below puts it in front of that one.
      const down = other.lane === dragged.lane && other.order < dragged.order;
      after = down ? (rows[at - 1]?.id ?? null) : target;
    }
    if (kind && !kind.lanes.includes(lane)) {
      set({ notice: `${kind.title} works in ${kind.lanes.map((l) => laneTitles[l]).join(', ')} only.` });
      return;
    }
    edit(moveRow(id, lane, subject, after));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <div className="pane-title">
        <span>Stack</span>
        <button type="button" className="btn btn-quiet btn-sm py-0 ms-auto" onClick={onStockroom}>
          <Boxes size={13} className="me-1" />
          Stockroom
        </button>
      </div>
      <LaneBlock lane="whole" subject={null} />
      <LaneBlock lane="foreground" subject={null} />
      {subjects.map((subject) => (
        <div key={subject.id}>
          <LaneBlock lane="front" subject={subject.id} />
          <SubjectCard subject={subject} />
          <LaneBlock lane="on" subject={subject.id} />
          <LaneBlock lane="behind" subject={subject.id} />
        </div>
      ))}
      {subjects.length === 0 && (
        <div className="px-3 py-2 quiet">
          No subject yet.{' '}
          {performance ? (
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              onClick={() => edit(addSubject(freshId(shot.subjects, 's'), 'Subject', performance.id))}
            >
              Make one
            </button>
          ) : (
            'Bring a performance in on Plates.'
          )}
          {performance && ', or make a matte the subject on Mattes.'}
        </div>
      )}
      <LaneBlock lane="background" subject={null} />
      <div className="lane">
        <LaneFigure lane="base" />
        Base
      </div>
      <button
        type="button"
        className={`base-row ${onBase ? 'selected' : ''}`}
        onClick={() => set({ selection: { kind: 'base', id: 'base' } })}
        aria-label="Base"
      >
        <div>{[...shot.base.takes.map((take) => shot.clips[take.clip]?.name), ...behindWords(shot)].join(', ') || 'nothing yet'}</div>
        {base && <div className="quiet">{clean ? 'clean plate where the subject is gone' : 'no clean plate'}</div>}
      </button>
    </DndContext>
  );
}

/** What lies behind the takes of the base, for people. */
function behindWords({ base: { ground }, clips }: Shot): string[] {
  switch (ground.values.ground) {
    case 'colour':
      return ['a colour'];
    case 'gradient':
      return ['a gradient'];
    case 'clip':
      return ground.clip && clips[ground.clip] ? [clips[ground.clip]!.name] : [];
    default:
      return [];
  }
}

function LaneBlock({ lane, subject }: { lane: Lane; subject: string | null }) {
  const shot = useDocument(),
    rows = rowsOf(shot, lane, subject).reverse(),
    ids = rows.map((row) => row.id).join(' '),
    // The same list for as long as it names the same: what is sorted is drawn anew with another one.
    items = useMemo(() => (ids ? ids.split(' ') : []), [ids]),
    selected = useShot((s) => (s.selection?.kind === 'row' ? s.selection.id : null)),
    checks = useChecks(),
    cost = useDrawnHere()?.cost,
    { setNodeRef, isOver } = useDroppable({ id: `lane:${lane}:${subject ?? ''}` });
  return (
    <section ref={setNodeRef} className={isOver ? 'drop-over' : ''} aria-label={laneTitles[lane]}>
      <div className={`lane ${rows.length ? '' : 'bare'}`}>
        <LaneFigure lane={lane} />
        {laneTitles[lane]}
        <AddEffect lane={lane} subject={subject} />
      </div>
      <SortableContext items={items} strategy={verticalListSortingStrategy}>
        {rows.map((row) => (
          <RowItem
            key={row.id}
            row={row}
            about={aboutRow(shot, row)}
            cost={costWords(cost?.[row.id])}
            warned={checks.some((c) => c.row === row.id && c.id !== 'row-muted')}
            selected={selected === row.id}
          />
        ))}
      </SortableContext>
    </section>
  );
}

/** It has a list of all effects, and stands in every lane: it hears of no change of the shot. */
const AddEffect = memo(function AddEffect({ lane, subject }: { lane: Lane; subject: string | null }) {
  const [recipes, setRecipes] = useState(false);
  const add = (type: string) => {
    const { shot, selection, edit, set, frame } = useShot.getState();
    if (!shot) return;
    const id = freshId(shot.rows, 'r'),
      track = selection?.kind === 'track' ? selection.id : (Object.keys(shot.tracks)[0] ?? null),
      wantsMount = Object.values(effects[type]!.inputs).some((i) => i.kind === 'mount');
    const made = suggestedValues(type, shot, track, frame);
    const add = addRow({ id, effect: type, lane, subject, track: wantsMount ? track : null, ...made }),
      shows = Object.values(effects[type]!.inputs).some((i) => i.kind === 'moment'),
      // What shows a clip begins with one that there is.
      clip = shows ? (ownClips(shot).find((c) => c.role === 'element')?.id ?? null) : null;
    edit(together(add.name, add, clip ? changeRow(id, { clip }) : null));
    set({ selection: { kind: 'row', id } });
  };
  return (
    <>
      {recipes && <RecipesDialog lane={lane} subject={subject} onClose={() => setRecipes(false)} />}
      <Dropdown align="end">
        <Dropdown.Toggle
          as="button"
          className="icon-button small"
          aria-label={`Add an effect to ${laneTitles[lane]}`}
          title={`Add an effect to ${laneTitles[lane]}`}
        >
          <Plus size={14} />
        </Dropdown.Toggle>
        <Menu>
          <Dropdown.Item onClick={() => setRecipes(true)}>
            <div>Recipes</div>
            <div className="about">Ready looks, drawn on this shot.</div>
          </Dropdown.Item>
          <Dropdown.Divider />
          {Object.values(effects)
            .filter((e) => e.lanes.includes(lane))
            .map((e) => (
              <Dropdown.Item key={e.type} onClick={() => add(e.type)}>
                <div>{e.title}</div>
                <div className="about">{e.summary}</div>
              </Dropdown.Item>
            ))}
        </Menu>
      </Dropdown>
    </>
  );
});

function SubjectCard({ subject }: { subject: Subject }) {
  const { selection, set } = useParts('selection', 'set'),
    drawn = useDrawnHere();
  return (
    <button
      type="button"
      className={`subject-card ${selection?.kind === 'subject' && selection.id === subject.id ? 'selected' : ''}`}
      onClick={() => set({ selection: { kind: 'subject', id: subject.id } })}
    >
      <ThumbCanvas thumb={drawn?.thumb} width={112} height={64} />
      <span className="narrows">
        <strong className="d-block text-truncate">{subject.name}</strong>
        <span className="quiet">{subject.matte ? `${subject.metres} m · ${subject.pixels} px` : 'no matte yet'}</span>
      </span>
    </button>
  );
}
