import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import {
  applyChange,
  applyEdit,
  independent,
  readShot,
  remove,
  whatGoesWith,
  kindTitles,
  mapOf,
  type Edit,
  type Kind,
  type Shot,
} from '@wraithos/core/shot';
import { AS_IT_IS, type Compare, type Factor, type Look, type MatteView, type Skin } from '@wraithos/core/render';
import { changesSince, keepVersion, openShot, type HistoryEntry, type OpenShot, type SavedEdit } from '@wraithos/contract';
import { call } from '../api/client';
import { onServerEvent } from '../api/events';
import { forgetPage, keptEdits, listAside, putAside, type KeptEdits, type SetAside } from './keptEdits';
import { arrivedOf, Saver, type Waiting } from './saver';

/** One line about something that happened, and what can be done about it. */
export interface Told {
  text: string;
  action?: { label: string; run(): void };
}
export type Selection = { kind: 'clip' | 'track' | 'matte' | 'row' | 'cue' | 'subject' | 'group' | 'base'; id: string } | null;
/** True where what is selected is still in the document; the base always is. */
export const isThere = (shot: Shot, selection: Selection): boolean =>
  selection !== null && (selection.kind === 'base' || Object.hasOwn(shot[mapOf[selection.kind]], selection.id));
/** A tool in hand, and how far it is; see tools/. */
export interface ToolInHand {
  kind: string;
  state: object;
}
interface Done {
  name: string;
  patches: SavedEdit['patches'];
  inverse: SavedEdit['inverse'];
}

export interface ShotState {
  id: string | null;
  productionId: string;
  productionName: string;
  shot: Shot | null;
  /** The document while something is dragged; not saved until the hand lets go. */
  live: Shot | null;
  undone: Done[];
  done: Done[];
  save: 'saved' | 'saving' | 'offline';
  waiting: Waiting;
  /** Changes that the server refused, of all shots, as this browser keeps them. */
  aside: SetAside[];
  error: string | null;
  notice: string | Told | null;
  frame: number;
  selection: Selection;
  outline: string | null;
  factor: Factor;
  playing: boolean;
  loop: boolean;
  /** First and last frame of what is played; null plays all of the shot. */
  range: [number, number] | null;
  /** What presses on the picture do; null where they select and drag. */
  tool: ToolInHand | null;
  matteView: MatteView | 'off';
  /** What a cut-out is laid on. */
  matteGround: string;
  upToSelected: boolean;
  /** How a selected clip is looked at with another take laid over it. */
  skin: { clip: string; how: Skin } | null;
  /** A frame or timecode is being typed, to go there. */
  going: boolean;
  /** How pictures are looked at. */
  look: Look;
  /** What pictures are looked at beside; null where nothing is. */
  compare: Compare | null;
  /** What is under the pointer, and how the values of the picture are spread, are shown. */
  measuring: boolean;
  /** The selected track is held still on the screen. */
  holdStill: boolean;
  /** Where a built clean plate is unsure is shown over it. */
  doubt: boolean;
  /** The picture has the whole width; the panels are folded away. */
  wide: boolean;
  open(id: string): Promise<void>;
  close(): void;
  edit(edit: Edit): void;
  /** Waits until everything that was changed here is on the server. */
  saved(): Promise<void>;
  preview(edit: Edit | null): void;
  /** Removes an entity, selects nothing, and tells at once what else went, with Undo. */
  remove(kind: Kind, id: string): void;
  undo(): void;
  redo(): void;
  /** Looks again at what is set aside. */
  refreshAside(): Promise<void>;
  /** Lays changes on the document as it is now, as far as they fit; gives those that do not. */
  layOn(edits: readonly SavedEdit[]): SavedEdit[];
  set(
    change: Partial<
      Pick<
        ShotState,
        | 'frame'
        | 'selection'
        | 'outline'
        | 'factor'
        | 'playing'
        | 'loop'
        | 'range'
        | 'tool'
        | 'matteView'
        | 'matteGround'
        | 'upToSelected'
        | 'skin'
        | 'look'
        | 'going'
        | 'compare'
        | 'measuring'
        | 'holdStill'
        | 'doubt'
        | 'wide'
        | 'notice'
        | 'error'
      >
    >,
  ): void;
}

const nothing: Waiting = { count: 0, since: null, kept: 'yes', reason: '' };
let saver: Saver | null = null,
  stopEvents: (() => void) | null = null;
const placeKey = (id: string) => `place:${id}`;

/** The undo and redo stacks that a log of revisions leads to. */
export function stacksOf(history: readonly HistoryEntry[]): { done: Done[]; undone: Done[] } {
  const done: Done[] = [],
    undone: Done[] = [];
  for (const entry of history) {
    if (entry.kind === 'do') {
      done.push({ name: entry.name, patches: entry.patches, inverse: entry.inverse });
      undone.length = 0;
    } else if (entry.kind === 'undo') {
      const last = done.pop();
      if (last) undone.push(last);
    } else {
      const last = undone.pop();
      if (last) done.push(last);
    }
  }
  return { done, undone };
}

/**
 * Lays edits that an earlier page kept onto a shot as it stands now. Those that had arrived after all are left out. Where the others
 * touch what was changed since, `beside` is the document that they would have made.
 */
export function layBack(
  opened: { document: Shot; history: readonly HistoryEntry[] },
  kept: { base: number; edits: SavedEdit[] },
): { shot: Shot; edits: SavedEdit[]; beside: Shot | null } {
  const since = opened.history.filter((entry) => entry.revision > kept.base),
    arrived = arrivedOf(kept.edits, since),
    edits = kept.edits.slice(arrived),
    missed = since.slice(arrived),
    onTop = (shot: Shot) => edits.reduce((now, edit) => applyChange(now, edit.patches), shot);
  if (
    independent(
      missed.flatMap((m) => m.patches),
      edits.flatMap((e) => e.patches),
    )
  )
    return { shot: onTop(opened.document), edits, beside: null };
  const before = missed.reduceRight((now, entry) => applyChange(now, entry.inverse), opened.document);
  return { shot: opened.document, edits: [], beside: onTop(before) };
}

/** A notice that leads to the list of shots. */
const seeTheShots = (text: string): Told => ({ text, action: { label: 'See the shots', run: () => location.assign('/') } });

/** The open shot: its document, how it is saved, and where the person looks. */
export const useShot = create<ShotState>((set, get) => {
  const remember = () => {
    const { id, frame, selection, factor } = get();
    if (id) sessionStorage.setItem(placeKey(id), JSON.stringify({ frame, selection, factor }));
  };

  const take = (opened: OpenShot, notice: ShotState['notice']) => {
    const host = {
      id: opened.id,
      confirmed: opened.document,
      revision: opened.revision,
      current: () => get().shot!,
      rebased: (shot: Shot) => set({ shot, live: null, notice: 'Changes from another window were joined with yours.' }),
      keptBeside: async (name: string) =>
        take(
          await call(openShot, { params: { id: opened.id } }),
          seeTheShots(
            `This shot was changed in another window at the same place. Yours is kept as the shot "${name}"; here is the other one.`,
          ),
        ),
      state: (save: ShotState['save'], waiting: Waiting) => set({ save, waiting }),
      setAside: async (edits: SavedEdit[], reason: string, shot: Shot) => {
        const entry: SetAside = { shot: opened.id, code: shot.code, base: host.revision, reason, when: new Date().toISOString(), edits };
        await putAside(entry).catch(() => undefined);
        const out = new Set(edits.map((e) => e.patches)),
          kept = await listAside().catch(() => null);
        set({
          shot,
          live: null,
          done: get().done.filter((d) => !out.has(d.patches)),
          undone: get().undone.filter((d) => !out.has(d.patches)),
          // A browser that cannot keep them still shows them, as long as this page is open.
          aside: kept ?? [...get().aside, entry],
          notice: `${edits.length === 1 ? 'A change was' : `${edits.length} changes were`} refused and set aside: ${reason}`,
        });
      },
    };
    saver?.close();
    saver = new Saver(host);
    stopEvents?.();
    stopEvents = onServerEvent((event) => {
      const changed = event.type === 'shot' && event.id === opened.id && event.revision > host.revision;
      if ((!changed && event.type !== 'again') || saver?.pending.length || get().save === 'saving') return;
      call(openShot, { params: { id: opened.id } }).then(
        (fresh) => {
          if (fresh.revision > host.revision && !saver?.pending.length)
            take(fresh, 'This shot was changed in another window; you see the newest.');
        },
        // It is asked for again with the next event.
        () => undefined,
      );
    });
    const place = JSON.parse(sessionStorage.getItem(placeKey(opened.id)) ?? '{}') as Partial<ShotState>,
      d = opened.document;
    set({
      id: opened.id,
      productionId: opened.production,
      productionName: opened.productionName,
      shot: d,
      live: null,
      ...stacksOf(opened.history),
      save: 'saved',
      waiting: nothing,
      error: null,
      notice,
      frame: Math.min(d.last, Math.max(d.first, place.frame ?? d.first)),
      selection: place.selection ?? null,
      factor: place.factor ?? 2,
      tool: null,
      skin: null,
      compare: null,
    });
  };

  const commit = (next: Shot, edit: SavedEdit) => {
    set({ shot: next, live: null, save: get().save === 'offline' ? 'offline' : 'saving' });
    saver?.add(edit);
  };

  /** Edits that an earlier page could not send: those that fit go on top; where the same was changed meanwhile, they are kept beside. */
  const putBack = async (opened: OpenShot, kept: KeptEdits) => {
    const since =
        kept.base < opened.revision ? (await call(changesSince, { params: { id: opened.id, revision: String(kept.base) } })).missed : [],
      { shot, edits, beside } = layBack({ document: get().shot!, history: since }, kept);
    if (beside) {
      const name = `${beside.code} kept ${new Date().toTimeString().slice(0, 5)}`;
      await call(keepVersion, { params: { id: opened.id }, body: { name, document: beside } });
      set({
        notice: seeTheShots(`This shot was changed elsewhere at the same place. What this browser had kept is now the shot "${name}".`),
      });
    } else if (edits.length) {
      set({
        shot,
        done: [...get().done, ...edits].slice(-200),
        save: 'saving',
        notice: `${edits.length === 1 ? 'A change that was' : `${edits.length} changes that were`} kept here ${edits.length === 1 ? 'has' : 'have'} been put back.`,
      });
      saver?.addAll(edits);
      await saver?.settled();
    }
    await forgetPage(opened.id, kept.page);
  };

  return {
    id: null,
    productionId: '',
    productionName: '',
    shot: null,
    live: null,
    undone: [],
    done: [],
    save: 'saved',
    waiting: nothing,
    aside: [],
    error: null,
    notice: null,
    frame: 1001,
    selection: null,
    outline: null,
    factor: 2,
    playing: false,
    loop: true,
    range: null,
    tool: null,
    matteView: 'off',
    matteGround: 'grey',
    upToSelected: false,
    skin: null,
    going: false,
    look: AS_IT_IS,
    compare: null,
    measuring: false,
    holdStill: false,
    doubt: true,
    wide: false,
    async open(id) {
      if (get().id === id) return;
      set({ shot: null, id: null, error: null });
      try {
        const opened = await call(openShot, { params: { id } }),
          kept = await keptEdits(id).catch(() => []);
        take(opened, null);
        void get().refreshAside();
        for (const each of kept) {
          try {
            await putBack(opened, each);
          } catch (error) {
            // They stay kept, and are put back at the next opening.
            set({ notice: `Changes that this browser kept could not be put back yet: ${(error as Error).message}` });
          }
        }
      } catch (error) {
        set({ error: (error as Error).message });
      }
    },
    close() {
      saver?.close();
      stopEvents?.();
      stopEvents = null;
      set({ id: null, shot: null, playing: false });
    },
    async saved() {
      await saver?.settled();
    },
    edit(edit) {
      const { shot, done } = get();
      if (!shot) return;
      try {
        const { shot: next, change } = applyEdit(shot, edit);
        if (change.patches.length === 0) {
          set({ live: null });
          return;
        }
        set({ done: [...done, change].slice(-200), undone: [] });
        commit(next, { ...change, kind: 'do' });
      } catch (error) {
        set({ notice: (error as Error).message, live: null });
      }
    },
    preview(edit) {
      const { shot } = get();
      if (shot) set({ live: edit ? applyEdit(shot, edit).shot : null });
    },
    remove(kind, id) {
      const { shot, edit, selection } = get(),
        it = shot && (shot[mapOf[kind]] as Record<string, { name: string }>)[id];
      if (!it) return;
      const also = whatGoesWith(shot, kind, id);
      edit(remove(kind, id));
      const removal = get().done.at(-1);
      if (selection?.kind === kind && selection.id === id) get().set({ selection: null });
      if (!also) return;
      set({
        notice: {
          text: `Removed ${kindTitles[kind]} ${it.name}. ${also}`,
          action: {
            label: 'Undo',
            // Undo takes back the last change; once that is another one, the notice has nothing to offer.
            run: () => {
              if (get().done.at(-1) === removal) get().undo();
              set({ notice: null });
            },
          },
        },
      });
    },
    undo() {
      const { shot, done, undone } = get(),
        last = done[done.length - 1];
      if (!shot || !last) return;
      try {
        const next = applyChange(shot, last.inverse);
        set({ done: done.slice(0, -1), undone: [...undone, last] });
        commit(next, { name: last.name, kind: 'undo', patches: last.inverse, inverse: last.patches });
      } catch {
        set({ done: done.slice(0, -1), notice: `"${last.name}" can no longer be undone: what it changed is gone.` });
      }
    },
    redo() {
      const { shot, done, undone } = get(),
        last = undone[undone.length - 1];
      if (!shot || !last) return;
      try {
        const next = applyChange(shot, last.patches);
        set({ undone: undone.slice(0, -1), done: [...done, last] });
        commit(next, { name: last.name, kind: 'redo', patches: last.patches, inverse: last.inverse });
      } catch {
        set({ undone: undone.slice(0, -1), notice: `"${last.name}" can no longer be done again.` });
      }
    },
    async refreshAside() {
      const aside = await listAside().catch(() => null);
      if (aside) set({ aside });
    },
    layOn(edits) {
      const rest: SavedEdit[] = [];
      for (const edit of edits) {
        const { shot, done } = get();
        try {
          const next = readShot(applyChange(shot!, edit.patches));
          set({ done: [...done, edit].slice(-200), undone: [] });
          commit(next, { ...edit, kind: 'do' });
        } catch {
          rest.push(edit);
        }
      }
      return rest;
    },
    set(change) {
      const shot = get().shot;
      if (change.frame !== undefined && shot)
        change = { ...change, frame: Math.min(shot.last, Math.max(shot.first, Math.round(change.frame))) };
      set(change);
      if ('frame' in change || 'selection' in change || 'factor' in change) remember();
    },
  };
});

/** Some fields of the state: a component is drawn anew where one of them changes, and at no other time. */
export const useParts = <K extends keyof ShotState>(...names: K[]): Pick<ShotState, K> =>
  useShot(useShallow((s) => Object.fromEntries(names.map((name) => [name, s[name]])) as Pick<ShotState, K>));

/** The document as it stands on the screen: dragged values included. */
export const useDocument = (): Shot => useShot((s) => s.live ?? s.shot)!;

// What waits goes out as soon as the line is back.
if (typeof addEventListener === 'function') addEventListener('online', () => saver?.soon(0));
// A page whose browser cannot keep what waits asks before it is closed.
if (typeof addEventListener === 'function')
  addEventListener('beforeunload', (event) => {
    if (saver?.unsafe) event.preventDefault();
  });
