import { ArrowLeft } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { emptyBin, getRoom, removeMedium, removeRender, restoreMedium, restoreRender, restoreShot } from '@wraithos/contract';
import { ApiError, call } from '../api/client';
import { onServerEvent } from '../api/events';
import { useRoute } from '../api/useRoute';
import { ConfirmDialog } from '../ui/ConfirmDialog';
import { Notice } from '../ui/Notice';
import { sizeWords } from '../ui/sizes';
import { useAct } from '../ui/useAct';

const groupWords: Record<string, string> = {
  media: 'Frames of clips',
  samples: 'Track samples',
  renders: 'Renders',
  thumbnails: 'Small pictures of shots',
  uploads: 'Files that are coming in',
  database: 'Database, with its copies',
};
const day = (text: string): string => new Date(text).toLocaleDateString();

/** What uses how much of the disk, and the bin. */
export function RoomPage() {
  const { data, error, mutate } = useRoute(getRoom),
    { said: notice, say: setNotice, act } = useAct(mutate),
    [asking, setAsking] = useState<{ title: string; text: string; confirm: string; act(): void } | null>(null);
  useEffect(
    () => onServerEvent((event) => void (event.type === 'disk' || event.type === 'shots' || event.type === 'again' ? mutate() : 0)),
    [mutate],
  );
  const restore = (what: Promise<unknown>) => act(what, () => setNotice(null));
  const binned = (name: string, bringBack: () => Promise<unknown>) =>
    setNotice({ text: `${name} is in the bin; it can be brought back for ${data?.binDays} days.`, undo: () => restore(bringBack()) });
  const binMedium = (hash: string, name: string, told = false) =>
    call(removeMedium, { params: { hash }, query: told ? { told: '1' } : {} }).then(
      () => {
        void mutate();
        binned(name, () => call(restoreMedium, { params: { hash } }));
      },
      (problem: Error) => {
        if (problem instanceof ApiError && problem.type.endsWith('/used'))
          setAsking({
            title: `Remove ${name}?`,
            text: problem.message,
            confirm: 'Remove it',
            act: () => void binMedium(hash, name, true),
          });
        else setNotice({ text: problem.message });
      },
    );
  const bin = data ? [...data.media, ...data.renders, ...data.shots].filter((entry) => entry.goneAt) : [];
  return (
    <main className="page room">
      <div className="page-head">
        <Link to="/" className="icon-button" aria-label="Back to the shots" title="Back to the shots">
          <ArrowLeft size={16} />
        </Link>
        <h1>Room</h1>
      </div>
      {error && (
        <div className="empty" role="alert">
          {error.message}
        </div>
      )}
      {!data && !error && <p className="quiet">Measuring…</p>}
      {data && (
        <>
          <section aria-label="Disk">
            <p className={data.disk.level === 'fine' ? '' : 'warns'}>
              {sizeWords(data.disk.free)} of {sizeWords(data.disk.total)} are left on this disk
              {data.disk.level === 'fine' ? '.' : data.disk.level === 'low' ? ': less than a tenth.' : '.'} {data.disk.message}
            </p>
            <dl className="facts num">
              {Object.entries(data.groups).map(([name, bytes]) => (
                <div key={name}>
                  <dt>{groupWords[name] ?? name}</dt>
                  <dd>{sizeWords(bytes)}</dd>
                </div>
              ))}
            </dl>
          </section>
          <section aria-label="Clips">
            <h2>Clips</h2>
            <table className="table table-sm">
              <thead>
                <tr>
                  <th>Name</th>
                  <th>Size</th>
                  <th>On the disk</th>
                  <th>Used by</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {data.media
                  .filter((m) => !m.goneAt)
                  .map((m) => (
                    <tr key={m.hash}>
                      <td className="name" title={m.name}>
                        {m.name}
                      </td>
                      <td className="num">
                        {m.width} x {m.height}, {m.frames === 1 ? '1 frame' : `${m.frames} frames`}
                      </td>
                      <td className="num">{sizeWords(m.bytes)}</td>
                      <td>{m.uses.map((u) => u.code).join(', ') || <span className="quiet">no shot as it is now</span>}</td>
                      <td>
                        <button type="button" className="btn btn-quiet btn-sm" onClick={() => void binMedium(m.hash, m.name)}>
                          Remove
                        </button>
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
            {data.media.length === 0 && <p className="empty">No clip has been brought in yet.</p>}
          </section>
          <section aria-label="Renders">
            <h2>Renders</h2>
            <table className="table table-sm">
              <tbody>
                {data.renders
                  .filter((r) => !r.goneAt)
                  .map((r) => (
                    <tr key={r.id}>
                      <td className="name" title={r.title}>
                        {r.title}
                      </td>
                      <td>{r.state}</td>
                      <td className="num">{day(r.created)}</td>
                      <td className="num">{sizeWords(r.bytes)}</td>
                      <td>
                        <button
                          type="button"
                          className="btn btn-quiet btn-sm"
                          disabled={r.state === 'running' || r.state === 'waiting'}
                          onClick={() =>
                            act(call(removeRender, { params: { id: r.id } }), () =>
                              binned(r.title, () => call(restoreRender, { params: { id: r.id } })),
                            )
                          }
                        >
                          Remove
                        </button>
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
            {data.renders.every((r) => r.goneAt) && <p className="quiet">None.</p>}
          </section>
          <section aria-label="Bin">
            <h2>
              Bin{' '}
              {bin.length > 0 && (
                <button
                  type="button"
                  className="btn btn-quiet btn-sm ms-2"
                  onClick={() =>
                    setAsking({
                      title: 'Empty the bin?',
                      text: 'Shots, clips and renders in the bin go for good, and their room is given back. This cannot be undone.',
                      confirm: 'Empty it',
                      act: () => act(call(emptyBin, {}), () => setNotice({ text: 'The bin is empty.' })),
                    })
                  }
                >
                  Empty the bin…
                </button>
              )}
            </h2>
            {bin.length === 0 && <p className="quiet">Empty. What you delete stays here for {data.binDays} days.</p>}
            <table className="table table-sm">
              <tbody>
                {data.shots.map((s) => (
                  <BinRow
                    key={s.id}
                    kind="Shot"
                    name={`${s.code} ${s.title}`}
                    goneAt={s.goneAt}
                    onRestore={() => restore(call(restoreShot, { params: { id: s.id } }))}
                  />
                ))}
                {data.media
                  .filter((m) => m.goneAt)
                  .map((m) => (
                    <BinRow
                      key={m.hash}
                      kind="Clip"
                      name={m.name}
                      bytes={m.bytes}
                      goneAt={m.goneAt!}
                      onRestore={() => restore(call(restoreMedium, { params: { hash: m.hash } }))}
                    />
                  ))}
                {data.renders
                  .filter((r) => r.goneAt)
                  .map((r) => (
                    <BinRow
                      key={r.id}
                      kind="Render"
                      name={r.title}
                      bytes={r.bytes}
                      goneAt={r.goneAt!}
                      onRestore={() => restore(call(restoreRender, { params: { id: r.id } }))}
                    />
                  ))}
              </tbody>
            </table>
          </section>
        </>
      )}
      {asking && <ConfirmDialog {...asking} onClose={() => setAsking(null)} />}
      <Notice
        text={notice?.text ?? null}
        action={notice?.undo ? 'Undo' : undefined}
        onAction={notice?.undo}
        onClose={() => setNotice(null)}
      />
    </main>
  );
}

function BinRow({
  kind,
  name,
  bytes,
  goneAt,
  onRestore,
}: {
  kind: string;
  name: string;
  bytes?: number;
  goneAt: string;
  onRestore(): void;
}) {
  return (
    <tr>
      <td>{kind}</td>
      <td className="name" title={name}>
        {name}
      </td>
      <td className="num">{bytes === undefined ? '' : sizeWords(bytes)}</td>
      <td>gone for good on {day(goneAt)}</td>
      <td>
        <button type="button" className="btn btn-quiet btn-sm" onClick={onRestore}>
          Bring back
        </button>
      </td>
    </tr>
  );
}
