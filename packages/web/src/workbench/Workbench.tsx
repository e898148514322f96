import { CircleQuestionMark, Redo2, Settings2, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useHotkeys, type Options } from 'react-hotkeys-hook';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { Link, NavLink, useParams } from 'react-router';
import { rateWords, secondsOf } from '@wraithos/core/time';
import { duplicateRow, freshId, addCue, cuesInOrder, removeVertices } from '@wraithos/core/shot';
import { CueStrip } from '../cues/CueStrip';
import { Settings } from '../settings/Settings';
import { toggleFullScreen } from '../viewer/fullScreen';
import { toggleMark } from '../state/marks';
import { useOutlinePoints } from '../state/outlinePoints';
import { useShot, useParts, isThere } from '../state/shotStore';
import { useShownFrame } from '../state/shownFrame';
import { stepOf, steps, type StepDefinition } from '../steps';
import { inHand, onwards } from '../tools';
import { IconButton } from '../ui/IconButton';
import { Notice } from '../ui/Notice';
import { PreferencesDialog } from '../ui/PreferencesDialog';
import { spaceKey } from '../viewer/space';
import { Viewer } from '../viewer/Viewer';
import { missing, unpackRows, type Packed } from '@wraithos/core/recipes';
import { copied, copySelected, PasteDialog } from '../recipes/PasteDialog';
import { COMPARED_WITH_BASE } from '../viewer/Compare';
import { GoTo } from './GoTo';
import { HelpDialog } from './HelpDialog';
import { SaveState } from './SaveState';
import { TracksProvider } from './tracks';
import { useChecks } from './useChecks';
import './workbench.css';

/** One shot: stack, picture, settings and time, for each step of the work. */
export function Workbench() {
  return (
    <TracksProvider>
      <OpenShot />
    </TracksProvider>
  );
}

function OpenShot() {
  const { id, step: given } = useParams(),
    step = stepOf(given);
  const open = useShot((s) => s.open),
    close = useShot((s) => s.close),
    shot = useShot((s) => s.shot),
    error = useShot((s) => s.error),
    notice = useShot((s) => s.notice),
    wide = useShot((s) => s.wide),
    set = useShot((s) => s.set);
  const [help, setHelp] = useState(false);
  useEffect(() => {
    if (id) void open(id);
    return () => close();
  }, [id, open, close]);
  useEffect(() => {
    set({ tool: null, matteView: step.matteView ?? 'off' });
  }, [step, set]);
  useEffect(() => {
    document.title = shot ? `${shot.code} · Wraithos` : 'Wraithos';
  }, [shot]);
  const [pasted, setPasted] = useState<Packed | null>(null);
  useShortcuts(() => setHelp(true), setPasted);
  const rows = useDefaultLayout({ id: 'workbench-rows', storage: localStorage }),
    columns = useDefaultLayout({ id: 'workbench-columns', storage: localStorage });
  if (error)
    return (
      <main className="page">
        <div className="empty" role="alert">
          {error} <Link to="/">Back to the shots</Link>
        </div>
      </main>
    );
  if (!shot)
    return (
      <main className="page quiet" aria-busy="true">
        Opening the shot…
      </main>
    );
  return (
    <div className={`workbench ${wide && !step.Page ? 'wide' : ''}`}>
      <Header step={step} onHelp={() => setHelp(true)} />
      {step.Page ? (
        <step.Page />
      ) : (
        <Group orientation="vertical" className="fill" defaultLayout={rows.defaultLayout} onLayoutChanged={rows.onLayoutChanged}>
          <Panel id="work" minSize={260}>
            <Group
              orientation="horizontal"
              style={{ height: '100%' }}
              defaultLayout={columns.defaultLayout}
              onLayoutChanged={columns.onLayoutChanged}
            >
              <Panel id="stack" defaultSize={236} minSize={180} maxSize={420}>
                <div className="panel">{step.List && <step.List />}</div>
              </Panel>
              <Separator className="handle across" />
              <Panel id="viewer" minSize={360}>
                <Viewer step={step} />
              </Panel>
              <Separator className="handle across" />
              <Panel id="settings" defaultSize={300} minSize={240} maxSize={460}>
                <div className="panel">
                  <Settings step={step} />
                </div>
              </Panel>
            </Group>
          </Panel>
          <Separator className="handle down" />
          <Panel id="time" defaultSize={290} minSize={120} maxSize={520}>
            <CueStrip step={step} />
          </Panel>
        </Group>
      )}
      {help && <HelpDialog onClose={() => setHelp(false)} />}
      {pasted && <PasteDialog packed={pasted} onClose={() => setPasted(null)} />}
      <Notice
        text={typeof notice === 'string' ? notice : (notice?.text ?? null)}
        action={typeof notice === 'string' ? undefined : notice?.action?.label}
        onAction={typeof notice === 'string' ? undefined : notice?.action?.run}
        onClose={() => set({ notice: null })}
      />
    </div>
  );
}

function Header({ step, onHelp }: { step: StepDefinition; onHelp(): void }) {
  const frame = useShownFrame(),
    { id, shot, productionName, done, undone, undo, redo, going, set } = useParts(
      'id',
      'shot',
      'productionName',
      'done',
      'undone',
      'undo',
      'redo',
      'going',
      'set',
    ),
    [preferences, setPreferences] = useState(false),
    checks = useChecks();
  if (!shot) return null;
  return (
    <header className="bar">
      <div className="where" title={`${productionName} / ${shot.code} ${shot.title}`}>
        <Link to="/">{productionName}</Link>
        <span className="quiet">/</span>
        <strong>{shot.code}</strong>
        <span className="quiet title">{shot.title}</span>
      </div>
      <nav className="steps" aria-label="Steps">
        {steps.map((one) => {
          const count = one.count?.(checks);
          return (
            <NavLink key={one.id} to={`/shots/${id}/${one.id}`} className={one === step ? 'active' : ''}>
              {one.title}
              {count && (
                <span className="count num" title={count.meaning}>
                  {count.number}
                </span>
              )}
            </NavLink>
          );
        })}
      </nav>
      <div className="ms-auto d-flex align-items-baseline gap-2 num">
        {going ? (
          <GoTo onClose={() => set({ going: false })} />
        ) : (
          <button type="button" className="frame" title="Go to a frame or timecode (G)" onClick={() => set({ going: true })}>
            <span aria-label="Frame">{frame}</span>
          </button>
        )}
        <span className="quiet" title={`${frame - shot.first + 1} of ${shot.last - shot.first + 1} frames at ${rateWords(shot.rate)} fps`}>
          {secondsOf(frame - shot.first, shot.rate).toFixed(2)} of {secondsOf(shot.last - shot.first + 1, shot.rate).toFixed(2)} s
        </span>
      </div>
      <SaveState />
      <IconButton
        label={done.length ? `Undo ${done[done.length - 1]!.name.toLowerCase()}` : 'Undo'}
        keys="Ctrl+Z"
        disabled={!done.length}
        onClick={undo}
      >
        <Undo2 size={16} />
      </IconButton>
      <IconButton
        label={undone.length ? `Redo ${undone[undone.length - 1]!.name.toLowerCase()}` : 'Redo'}
        keys="Ctrl+Shift+Z"
        disabled={!undone.length}
        onClick={redo}
      >
        <Redo2 size={16} />
      </IconButton>
      <IconButton label="Preferences" onClick={() => setPreferences(true)}>
        <Settings2 size={16} />
      </IconButton>
      {preferences && <PreferencesDialog onClose={() => setPreferences(false)} />}
      <IconButton label="Help and keys" keys="?" onClick={onHelp}>
        <CircleQuestionMark size={16} />
      </IconButton>
    </header>
  );
}

/** Keys of the workbench. The playhead is a slider, and every key works while it has the focus. */
function useKey(keys: string, work: (event: KeyboardEvent) => void, more: Options = {}): void {
  useHotkeys(keys, work, { enableOnFormTags: ['slider'], ...more });
}

function useShortcuts(onHelp: () => void, onPaste: (packed: Packed) => void) {
  useKey('mod+c', () => {
    const { shot, selection, set } = useShot.getState(),
      said = shot && !getSelection()?.toString() ? copySelected(shot, selection) : null;
    if (said) set({ notice: said });
  });
  useKey('mod+v', () => {
    const { shot, edit } = useShot.getState(),
      packed = copied();
    if (!shot || !packed) return;
    if (missing(shot, packed).length) onPaste(packed);
    else edit(unpackRows(shot, packed));
  });
  const step = (by: number) => {
    const s = useShot.getState();
    s.set({ playing: false, frame: s.frame + by });
  };
  useKey(
    'space',
    (event) => {
      if (event.type === 'keydown') return;
      if (spaceKey.moved) return;
      const s = useShot.getState();
      s.set({ playing: !s.playing });
    },
    { preventDefault: true, keydown: true, keyup: true },
  );
  useKey('left', () => step(-1));
  useKey('right', () => step(1));
  useKey('shift+left', () => step(-10));
  useKey('shift+right', () => step(10));
  useKey('home', () => {
    const s = useShot.getState();
    if (s.shot) s.set({ frame: s.shot.first });
  });
  useKey('end', () => {
    const s = useShot.getState();
    if (s.shot) s.set({ frame: s.shot.last });
  });
  const toCue = (way: 1 | -1) => {
    const s = useShot.getState(),
      frames = (s.shot ? cuesInOrder(s.shot) : [])
        .map((cue) => cue.frame)
        .filter((f) => (f - s.frame) * way > 0)
        .sort((a, b) => (a - b) * way);
    if (frames.length) s.set({ playing: false, frame: frames[0]! });
  };
  useKey('mod+left', () => toCue(-1), { preventDefault: true });
  useKey('mod+right', () => toCue(1), { preventDefault: true });
  useKey('g', () => useShot.getState().set({ going: true }), { preventDefault: true });
  useKey('mod+z', () => useShot.getState().undo(), { preventDefault: true });
  useKey('mod+shift+z', () => useShot.getState().redo(), { preventDefault: true });
  useKey('q', () => {
    const s = useShot.getState();
    if (s.shot) s.edit(addCue(freshId(s.shot.cues, 'q'), 'Cue', s.frame));
  });
  useKey('n', () => {
    const s = useShot.getState();
    if (s.id) toggleMark(s.id, s.frame);
  });
  const played = (end: 0 | 1) => {
    const { shot, frame, range, set } = useShot.getState();
    if (!shot) return;
    const next: [number, number] = [...(range ?? [shot.first, shot.last])];
    next[end] = frame;
    if (next[0] > next[1]) next[1 - end] = end ? shot.first : shot.last;
    set({ range: next[0] === shot.first && next[1] === shot.last ? null : next });
  };
  useKey('i', () => played(0));
  useKey('o', () => played(1));
  useKey('f', () => void toggleFullScreen());
  useKey('escape', () => {
    const s = useShot.getState();
    // First the tool, then what is selected.
    s.set(s.tool ? { tool: null } : { selection: null });
  });
  useKey('w', () => {
    const s = useShot.getState();
    s.set({ wide: !s.wide });
  });
  useKey('c', () => {
    const s = useShot.getState();
    s.set({ compare: s.compare ? null : COMPARED_WITH_BASE });
  });
  useKey('m', () => {
    const s = useShot.getState();
    s.set({ measuring: !s.measuring });
  });
  // Keys of the tool in hand.
  useKey('enter,backspace,r', (event) => {
    const s = useShot.getState(),
      held = inHand(s.tool),
      next = held?.definition.key?.(held.state, event.key, s);
    if (s.tool && next !== undefined) s.set({ tool: onwards(s.tool, next) });
  });
  useKey('delete', () => {
    const s = useShot.getState(),
      { points } = useOutlinePoints.getState(),
      { selection, outline } = s;
    if (selection?.kind === 'matte' && outline && points.length && s.shot?.mattes[selection.id]?.outlines.some((o) => o.id === outline)) {
      s.edit(removeVertices(selection.id, outline, new Set(points)));
      useOutlinePoints.setState({ points: [] });
      return;
    }
    if (s.shot && s.selection && s.selection.kind !== 'group' && s.selection.kind !== 'base' && isThere(s.shot, s.selection))
      s.remove(s.selection.kind, s.selection.id);
  });
  useKey(
    'mod+shift+d',
    () => {
      const s = useShot.getState();
      if (s.shot && s.selection?.kind === 'row') {
        const copy = freshId(s.shot.rows, 'r');
        s.edit(duplicateRow(s.selection.id, copy));
        s.set({ selection: { kind: 'row', id: copy } });
      }
    },
    { preventDefault: true },
  );
  useKey('shift+slash', onHelp);
}
