import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { addCue, DOCUMENT_VERSION, setSourceValues, type Shot } from '@wraithos/core/shot';
import { TestServer } from '../test/harness';
import { documentAt } from './revisions';

let server: TestServer;
beforeAll(async () => void (server = await TestServer.start()), 60_000);
afterAll(async () => {
  await server?.end();
  expect(server.unexpected).toEqual([]);
}, 60_000);

const old = () =>
  (
    JSON.parse(readFileSync(fileURLToPath(new URL('../../core/test/documents/v1-full.json', import.meta.url)), 'utf8')) as {
      document: Record<string, unknown>;
    }
  ).document;

/** Puts a shot of document version 1 into the database, as that version left it: a snapshot, an edit since, and a row that has it or is behind. */
async function leaveOld(code: string, rowIsBehind: boolean): Promise<string> {
  const id = await server.newShot(code),
    { database } = server.services,
    first = { ...old(), code },
    patches = [{ op: 'replace', path: ['mattes', 'k3', 'threshold'], value: 11 }],
    inverse = [{ op: 'replace', path: ['mattes', 'k3', 'threshold'], value: 6 }],
    second = structuredClone(first) as { mattes: { k3: { threshold: number } } } & typeof first;
  second.mattes.k3.threshold = 11;
  await database.query('UPDATE revisions SET snapshot = ? WHERE shot_id = ? AND revision = 1', [JSON.stringify(first), id]);
  await database.query(
    "INSERT INTO revisions (shot_id, revision, name, kind, patches, inverse, snapshot, created) VALUES (?, 2, 'Change matte', 'do', ?, ?, NULL, NOW(3))",
    [id, JSON.stringify(patches), JSON.stringify(inverse)],
  );
  await database.query('UPDATE shots SET document = ?, document_revision = ?, revision = 2 WHERE id = ?', [
    JSON.stringify(rowIsBehind ? first : second),
    rowIsBehind ? 1 : 2,
    id,
  ]);
  return id;
}

test.each([
  ['a row that has its newest document', false],
  ['a row that is behind its revisions', true],
])(
  'a document of an earlier version is brought up to date once: %s',
  async (_, rowIsBehind) => {
    const id = await leaveOld(rowIsBehind ? 'HT_710' : 'HT_700', rowIsBehind);
    await server.restart();
    const opened = await server.opened(id);
    expect(opened.document.version).toBe(DOCUMENT_VERSION);
    expect(opened.document.mattes.k3!.sources[0]!.source).toMatchObject({ kind: 'difference', threshold: 11 });
    // Undo does not reach patches of the earlier form.
    expect(opened.history).toEqual([]);
    const saved = await server.save(id, setSourceValues('k3', { threshold: 4 }));
    expect(saved.status).toBe(200);
    await server.save(id, addCue('q9', 'later', 1006));
    expect((await server.opened(id)).history.map((h) => h.name)).toEqual(['Change matte', 'Add cue']);
    // Revisions on both sides of it can still be put together.
    const at = (revision: number) => documentAt(server.services.database.manager, id, revision) as Promise<Shot>;
    expect((await at(1)).mattes.k3!.sources[0]!.source).toMatchObject({ threshold: 6 });
    expect((await at(2)).mattes.k3!.sources[0]!.source).toMatchObject({ threshold: 11 });
    expect((await at(4)).mattes.k3!.sources[0]!.source).toMatchObject({ threshold: 4 });
    const before = (await server.opened(id)).revision;
    await server.restart();
    expect((await server.opened(id)).revision).toBe(before);
  },
  60_000,
);

test('an edit of the earlier form is refused in words, not laid on half', async () => {
  const id = await leaveOld('HT_720', false);
  await server.restart();
  const { revision } = await server.opened(id),
    edit = { name: 'Change matte', kind: 'do', patches: [{ op: 'add', path: ['mattes', 'k3', 'threshold'], value: 3 }], inverse: [] },
    { body } = await server
      .api()
      .post(`/api/shots/${id}/edits`)
      .send({ base: revision, edits: [edit] })
      .expect(422);
  expect(body).toMatchObject({ type: '/problems/invalid-edit' });
  expect((await server.opened(id)).revision).toBe(revision);
}, 60_000);
