import { addCue, applyEdit, moveCue, newShot, type Edit, type Shot } from '@wraithos/core/shot';
import type { SavedEdit, ShotSummary } from '@wraithos/contract';
import { Saver, type SaverHost } from './saver';
import { layBack, stacksOf } from './shotStore';

const shot0 = (): Shot =>
  applyEdit(newShot({ code: 'HT_010', width: 64, height: 36, rate: { num: 24, den: 1 }, frames: 10 }), addCue('q1', 'strike', 1003)).shot;
const later = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const summary: ShotSummary = {
  ...{ id: 's2', production: 'p1', code: 'HT_010 kept', title: '', revision: 1, width: 64, height: 36 },
  ...{ rate: { num: 24, den: 1 }, first: 1001, last: 1010, rows: 0, updated: '2031-04-02T10:00:00.000Z' },
};
/** A server of one shot, and a page that edits it. */
function page() {
  const server = {
    document: shot0(),
    revision: 1,
    log: [] as { revision: number; name: string; kind: 'do'; patches: never[]; inverse: never[] }[],
    versions: [] as { name: string; document: Shot }[],
    online: true,
    /** What the server answers for a batch before it looks at it; null where it takes it. */
    refuse: (edits: SavedEdit[]): Response | null => (void edits, null),
    requests: [] as number[],
  };
  const answer = (status: number, body: object) =>
    new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    if (!server.online) throw new TypeError('no line');
    const body = JSON.parse(String(init?.body ?? '{}')) as { base: number; edits: SavedEdit[]; name: string; document: Shot };
    if (path.endsWith('/versions')) {
      server.versions.push(body);
      return answer(201, summary);
    }
    server.requests.push(body.edits.length);
    const no = server.refuse(body.edits);
    if (no) return no;
    if (body.base !== server.revision)
      return answer(409, { revision: server.revision, missed: server.log.filter((l) => l.revision > body.base) });
    for (const edit of body.edits) {
      const { applyChange } = await import('@wraithos/core/shot');
      server.document = applyChange(server.document, edit.patches);
      server.log.push({
        revision: ++server.revision,
        name: edit.name,
        kind: 'do',
        patches: edit.patches as never[],
        inverse: edit.inverse as never[],
      });
    }
    return answer(200, { revision: server.revision });
  }) as typeof fetch;
  const state = {
    shot: shot0(),
    save: 'saved',
    waiting: 0,
    since: null as Date | null,
    beside: '',
    aside: [] as { edits: SavedEdit[]; reason: string }[],
    rebased: 0,
  };
  const host: SaverHost = {
    id: 's1',
    confirmed: shot0(),
    revision: 1,
    current: () => state.shot,
    rebased: (shot) => {
      state.shot = shot;
      state.rebased++;
    },
    keptBeside: (name) => {
      state.beside = name;
      return Promise.resolve();
    },
    state: (save, { count, since }) => Object.assign(state, { save, waiting: count, since }),
    setAside: (edits, reason, shot) => {
      state.aside.push({ edits, reason });
      state.shot = shot;
      return Promise.resolve();
    },
  };
  const saver = new Saver(host);
  const edit = (e: Edit) => {
    const { shot, change } = applyEdit(state.shot, e);
    state.shot = shot;
    saver.add({ ...change, kind: 'do' });
  };
  /** Somebody else's edit reaches the server. */
  const elsewhere = (e: Edit) => {
    const { shot, change } = applyEdit(server.document, e);
    server.document = shot;
    server.log.push({
      revision: ++server.revision,
      name: change.name,
      kind: 'do',
      patches: change.patches as never[],
      inverse: change.inverse as never[],
    });
  };
  return { server, state, saver, edit, elsewhere };
}

test('edits are sent in order, and the state tells when they are safe', async () => {
  const { server, state, edit, saver } = page();
  edit(addCue('q2', 'echo', 1005));
  edit(moveCue('q2', 1006));
  await later(300);
  expect([server.document, server.revision, state.save, saver.pending.length]).toEqual([state.shot, 3, 'saved', 0]);
});

test('without a line edits wait, are counted, and go out when it is back', async () => {
  const { server, state, edit, saver } = page();
  server.online = false;
  edit(addCue('q2', 'echo', 1005));
  await later(60);
  expect([state.save, state.waiting]).toEqual(['offline', 1]);
  server.online = true;
  saver.soon(0);
  await later(60);
  expect([state.save, Object.keys(server.document.cues)]).toEqual(['saved', ['q1', 'q2']]);
});

test('changes from elsewhere that touch other things are joined', async () => {
  const { server, state, edit, elsewhere } = page();
  elsewhere(addCue('q9', 'gust', 1009));
  edit(moveCue('q1', 1002));
  await later(350);
  expect([state.rebased, state.save, state.beside]).toEqual([1, 'saved', '']);
  expect(server.document.cues).toMatchObject({ q1: { frame: 1002 }, q9: { name: 'gust' } });
  expect(state.shot).toEqual(server.document);
});

test('changes of the same thing keep both versions: ours beside, under a name that is told', async () => {
  const { server, state, edit, elsewhere, saver } = page();
  elsewhere(moveCue('q1', 1008));
  edit(moveCue('q1', 1002));
  await later(100);
  expect(state.beside).toMatch(/^HT_010 kept \d\d:\d\d$/);
  expect(server.versions[0]!.document.cues.q1!.frame).toBe(1002);
  expect([server.document.cues.q1!.frame, saver.pending.length]).toEqual([1008, 0]);
});

test('an answer that was lost is no conflict: what arrived is recognised, and only the rest goes out', async () => {
  const { server, state, edit, saver } = page(),
    fetch = globalThis.fetch;
  // The server takes the first request, and its answer never comes.
  let lost = false;
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    const answer = await fetch(path, init);
    if (lost) return answer;
    lost = true;
    throw new TypeError('no line');
  }) as typeof fetch;
  edit(addCue('q2', 'echo', 1005));
  await later(60);
  expect([state.save, server.revision]).toEqual(['offline', 2]);
  edit(addCue('q3', 'gust', 1007));
  saver.soon(0);
  await later(400);
  expect([state.save, state.beside, server.revision, saver.pending.length]).toEqual(['saved', '', 3, 0]);
  expect(server.document).toEqual(state.shot);
});

describe('edits that an earlier page kept', () => {
  const history = (shot: Shot, ...edits: Edit[]) => {
    let document = shot,
      revision = 1;
    const entries = edits.map((e) => {
      const { shot: next, change } = applyEdit(document, e);
      document = next;
      return { ...change, revision: ++revision, kind: 'do' as const };
    });
    return { document, history: entries };
  };
  const kept = (...edits: Edit[]) => ({
    base: 1,
    edits: history(shot0(), ...edits).history.map((h) => ({ name: h.name, kind: h.kind, patches: h.patches, inverse: h.inverse })),
  });
  test('that had arrived are left out; the rest goes on top', () => {
    const two = kept(addCue('q2', 'echo', 1005), addCue('q3', 'gust', 1007)),
      { shot, edits, beside } = layBack(history(shot0(), addCue('q2', 'echo', 1005)), two);
    expect([edits.map((e) => e.name), Object.keys(shot.cues), beside]).toEqual([['Add cue'], ['q1', 'q2', 'q3'], null]);
  });
  test('that touch other things go on top of what was changed since', () => {
    const { shot } = layBack(history(shot0(), addCue('q9', 'bell', 1009)), kept(moveCue('q1', 1002)));
    expect(shot.cues).toMatchObject({ q1: { frame: 1002 }, q9: { frame: 1009 } });
  });
  test('that touch the same are kept beside, as the document that they would have made', () => {
    const { shot, edits, beside } = layBack(history(shot0(), moveCue('q1', 1008)), kept(moveCue('q1', 1002)));
    expect([shot.cues.q1!.frame, edits.length, beside!.cues.q1!.frame]).toEqual([1008, 0, 1002]);
  });
});

const answerOf = (status: number, body: object, headers: Record<string, string> = {}) =>
  new Response(JSON.stringify(body), { status, headers });
/** Waits until the saver has nothing more to send. */
async function sent(saver: Saver): Promise<void> {
  for (let i = 0; i < 2000 && saver.pending.length; i++) await later(10);
}

describe('nothing that waits is dropped', () => {
  test('ten thousand edits made without a line arrive, in portions and in order', async () => {
    const { server, state, edit, saver } = page();
    server.online = false;
    for (let i = 0; i < 10_000; i++) edit(moveCue('q1', 1001 + (i % 9) + (i === 9999 ? 500 : 0)));
    await later(30);
    expect([state.save, state.waiting]).toEqual(['offline', 10_000]);
    expect(Math.abs(Date.now() - state.since!.getTime())).toBeLessThan(60_000);
    server.online = true;
    saver.soon(0);
    await sent(saver);
    expect([state.save, server.revision, server.document.cues.q1!.frame]).toEqual(['saved', 10_001, state.shot.cues.q1!.frame]);
    expect(Math.max(...server.requests)).toBeLessThanOrEqual(500);
    expect(state.aside).toEqual([]);
  }, 60_000);

  test('one that is refused for what it holds is set aside with its reason, with what builds on it; the others arrive', async () => {
    const { server, state, edit, saver } = page();
    server.online = false;
    edit(addCue('q2', 'echo', 1005));
    edit(addCue('q3', 'bad', 1006));
    edit(moveCue('q3', 1007));
    edit(moveCue('q1', 1004));
    server.refuse = (edits) => {
      const at = edits.findIndex((e) => JSON.stringify(e.patches).includes('bad'));
      return at < 0 ? null : answerOf(422, { detail: '"Add cue" does not give a valid shot.', edit: at });
    };
    server.online = true;
    saver.soon(0);
    await sent(saver);
    expect(state.aside).toEqual([
      {
        reason: '"Add cue" does not give a valid shot.',
        edits: [expect.objectContaining({ name: 'Add cue' }), expect.objectContaining({ name: 'Move cue' })],
      },
    ]);
    expect(server.document.cues).toMatchObject({ q1: { frame: 1004 }, q2: { frame: 1005 } });
    expect([Object.keys(server.document.cues), state.shot]).toEqual([['q1', 'q2'], server.document]);
    expect(state.save).toBe('saved');
  });

  test('a request that is too large goes in smaller portions; an edit that is too large alone is set aside', async () => {
    const { server, state, edit, saver } = page();
    server.online = false;
    for (let i = 0; i < 40; i++) edit(addCue(`a${i}`, i === 17 ? 'x'.repeat(100) : `cue ${i}`, 1001));
    server.refuse = (edits) =>
      JSON.stringify(edits).length > 6000 || JSON.stringify(edits).includes('xxxx')
        ? answerOf(413, { detail: 'That is larger than is accepted.' })
        : null;
    server.online = true;
    saver.soon(0);
    await sent(saver);
    expect(state.aside.map((a) => a.edits.length)).toEqual([1]);
    expect(Object.keys(server.document.cues)).toHaveLength(40);
  });

  test.each([429, 500, 502, 503, 507, 404, 403, 408])('an answer of %i waits and goes on', async (status) => {
    const { server, state, edit, saver } = page();
    let times = 2;
    server.refuse = () => (times-- > 0 ? answerOf(status, { detail: 'Not now.' }) : null);
    edit(addCue('q2', 'echo', 1005));
    await later(40);
    expect([state.save, state.waiting, state.aside]).toEqual(['offline', 1, []]);
    saver.soon(0);
    await later(20);
    saver.soon(0);
    await sent(saver);
    expect([state.save, server.revision, state.aside]).toEqual(['saved', 2, []]);
  });
});

test('the stacks of undo and redo follow from the log', () => {
  const entry = (name: string, kind: 'do' | 'undo' | 'redo') => ({ revision: 0, name, kind, patches: [], inverse: [] });
  const names = (log: ReturnType<typeof entry>[]) => {
    const { done, undone } = stacksOf(log);
    return [done.map((d) => d.name), undone.map((d) => d.name)];
  };
  expect(names([entry('a', 'do'), entry('b', 'do'), entry('b', 'undo')])).toEqual([['a'], ['b']]);
  expect(names([entry('a', 'do'), entry('a', 'undo'), entry('a', 'redo')])).toEqual([['a'], []]);
  expect(names([entry('a', 'do'), entry('b', 'do'), entry('b', 'undo'), entry('c', 'do')])).toEqual([['a', 'c'], []]);
});
