/**
 * The server under load: `npm run load -- --clients 200 --seconds 60`. Every client has a shot open, listens to events, and opens its shot, edits it
 * and looks at lists in turn. Prints a table; the figures in docs/reliability.md come from it.
 */
import { Agent, request } from 'node:http';
import { parseArgs } from 'node:util';
import type { Shot } from '@wraithos/core/shot';
import { Application } from './application';

const { values } = parseArgs({
    options: { clients: { type: 'string', default: '200' }, seconds: { type: 'string', default: '60' }, json: { type: 'boolean' } },
  }),
  clients = Number(values.clients),
  end = Number(values.seconds) * 1000;
const times: Record<string, number[]> = { open: [], edit: [], list: [] },
  errors: string[] = [];
let streams = 0,
  stale = 0,
  heard = 0;

const app = await Application.start();
try {
  const demo = (await app.get<{ id: string; code: string }[]>('/shots')).find((s) => s.code === 'TW_010')!,
    { document } = await app.get<{ document: Shot }>(`/shots/${demo.id}`),
    shots: string[] = [];
  // Shots as they are in use: copies of the demo's, each with a history.
  for (let i = 0; i < clients; i++)
    shots.push((await app.send<{ id: string }>('POST', `/shots/${demo.id}/versions`, { name: `LD_${i}`, document })).body.id);
  for (let i = 0; i < clients; i++) {
    const call = request(`${app.base}/api/events`, (response) => {
      streams++;
      response.on('data', () => heard++);
      response.on('error', () => undefined);
    });
    call.on('error', () => undefined);
    call.end();
  }
  // As light as can be: clients and server share this machine, and only the server is to be measured.
  const agent = new Agent({ keepAlive: true, maxSockets: Infinity });
  const ask = (kind: string, method: string, path: string, body?: string): Promise<{ status: number; text: string }> =>
    new Promise((resolve, reject) => {
      const at = performance.now(),
        call = request(
          `${app.base}/api${path}`,
          { method, agent, headers: body ? { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body) } : {} },
          (response) => {
            const parts: Buffer[] = [];
            response.on('data', (chunk: Buffer) => parts.push(chunk));
            response.on('end', () => {
              times[kind]?.push(performance.now() - at);
              resolve({ status: response.statusCode!, text: Buffer.concat(parts).toString('latin1') });
            });
            response.on('error', reject);
          },
        );
      call.on('error', reject);
      call.end(body);
    });
  const revisionIn = (text: string) => Number(/"revision":(\d+)/.exec(text)?.[1]);
  const begun = Date.now();
  const client = async (n: number) => {
    const id = shots[n % shots.length]!;
    let edits = 0;
    while (Date.now() - begun < end) {
      try {
        const opened = await ask('open', 'GET', `/shots/${id}`);
        if (opened.status !== 200) errors.push(`open ${opened.status}`);
        let revision = revisionIn(opened.text);
        for (let i = 0; i < 3; i++) {
          const cue = { id: `c${n}_${edits++ % 20}`, name: `cue of ${n}`, frame: 1001 + (edits % 90) },
            patches = [{ op: 'add', path: ['cues', cue.id], value: cue }],
            edit = { name: 'Add cue', kind: 'do', patches, inverse: [{ op: 'remove', path: ['cues', cue.id] }] };
          const saved = await ask('edit', 'POST', `/shots/${id}/edits`, JSON.stringify({ base: revision, edits: [edit] }));
          // A 409 is no error: somebody else was there first.
          if (saved.status === 200 || saved.status === 409) revision = revisionIn(saved.text);
          else errors.push(`edit ${saved.status}`);
          stale += saved.status === 409 ? 1 : 0;
        }
        const list = await ask('list', 'GET', '/shots');
        if (list.status !== 200) errors.push(`list ${list.status}`);
      } catch (error) {
        errors.push((error as Error).message);
      }
      await new Promise((resolve) => setTimeout(resolve, 400 + ((n * 37) % 400)));
    }
  };
  await Promise.all(Array.from({ length: clients }, (_, n) => client(n)));
  const at = (list: number[], share: number) =>
      Math.round(list.sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0),
    rows = Object.entries(times).map(([kind, list]) => ({
      kind,
      requests: list.length,
      p50: at(list, 0.5),
      p95: at(list, 0.95),
      most: at(list, 1),
    })),
    perSecond = Math.round(rows.reduce((n, row) => n + row.requests, 0) / (end / 1000));
  if (values.json) console.log(JSON.stringify({ clients, streams, heard, perSecond, errors: errors.length, rows }));
  else {
    console.log(
      `${clients} clients, ${streams} event streams, ${perSecond} requests a second, ${errors.length} errors, ${stale} edits that came second, ${heard} events heard`,
    );
    console.table(rows);
    if (errors.length) console.log([...new Set(errors)].slice(0, 5).join('; '));
  }
} finally {
  await app.close();
}
process.exit(errors.length ? 1 : 0);
