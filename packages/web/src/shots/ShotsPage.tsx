import { Ellipsis, Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { secondsOf, framesPerSecond } from '@wraithos/core/time';
import {
  addProduction,
  duplicateShot,
  listProductions,
  listShots,
  removeShot,
  renameShot,
  restoreShot,
  type ShotSummary,
} from '@wraithos/contract';
import { call } from '../api/client';
import { onServerEvent } from '../api/events';
import { useRoute } from '../api/useRoute';
import { useAct } from '../ui/useAct';
import { NameDialog } from '../ui/NameDialog';
import { Notice } from '../ui/Notice';
import { PreferencesDialog } from '../ui/PreferencesDialog';
import { BringBundle } from './BringBundle';
import { BundleDialog } from './BundleDialog';
import { ChangesDialog } from './ChangesDialog';
import { NewShotDialog } from './NewShotDialog';
import { Thumbnail } from './Thumbnail';
import { Menu } from '../ui/Menu';

/** Productions and their shots as cards. */
export function ShotsPage() {
  const productions = useRoute(listProductions),
    shots = useRoute(listShots),
    navigate = useNavigate();
  const [newIn, setNewIn] = useState<string | null>(null),
    [naming, setNaming] = useState<ShotSummary | null>(null),
    [newProduction, setNewProduction] = useState(false),
    [bundle, setBundle] = useState<{ name: string; path: string } | null>(null),
    [changing, setChanging] = useState<ShotSummary | null>(null),
    [preferences, setPreferences] = useState(false),
    refresh = shots.mutate,
    { said: notice, say: setNotice, act } = useAct(refresh);
  useEffect(
    () =>
      onServerEvent((event) => {
        if (event.type !== 'job' && event.type !== 'disk') void refresh();
      }),
    [refresh],
  );
  const remove = (shot: ShotSummary) =>
    act(call(removeShot, { params: { id: shot.id } }), () =>
      setNotice({
        text: `${shot.code} is in the bin; it can be brought back for 30 days.`,
        undo: () => act(call(restoreShot, { params: { id: shot.id } }), () => setNotice(null)),
      }),
    );

  const error = productions.error ?? shots.error;
  return (
    <main className="page">
      <div className="page-head">
        <h1>Shots</h1>
        <div className="ms-auto d-flex gap-2 align-items-center">
          <BringBundle
            onSaid={(text) => {
              setNotice({ text });
              void refresh();
              void productions.mutate();
            }}
          />
          <Link to="/room" className="btn btn-quiet btn-sm">
            Room
          </Link>
          <button type="button" className="btn btn-quiet btn-sm" onClick={() => setPreferences(true)}>
            Preferences
          </button>
          <button type="button" className="btn btn-quiet btn-sm" onClick={() => setNewProduction(true)}>
            New production
          </button>
        </div>
      </div>
      {error && (
        <div className="empty" role="alert">
          {(error as Error).message}
        </div>
      )}
      {productions.data?.map((production) => {
        const own = shots.data?.filter((shot) => shot.production === production.id) ?? [];
        return (
          <section key={production.id} className="mb-5" aria-label={production.name}>
            <div className="d-flex align-items-center mb-3">
              <h2 className="fs-5 m-0">{production.name}</h2>
              <span className="quiet ms-2">{own.length === 1 ? '1 shot' : `${own.length} shots`}</span>
              <button
                type="button"
                className="btn btn-quiet btn-sm ms-auto me-2"
                onClick={() => setBundle({ name: production.name, path: `/productions/${production.id}` })}
              >
                Save as a bundle
              </button>
              <button type="button" className="btn btn-primary btn-sm" onClick={() => setNewIn(production.id)}>
                <Plus size={15} className="me-1" />
                New shot
              </button>
            </div>
            {shots.data && own.length === 0 && <div className="empty">No shot here yet. Make one from a clip with New shot.</div>}
            <div className="cards">
              {own.map((shot) => (
                <article key={shot.id} className="shot-card" aria-label={shot.code}>
                  <Link to={`/shots/${shot.id}/${shot.rows ? 'effects' : 'plates'}`} className="picture" aria-label={`Open ${shot.code}`}>
                    <Thumbnail shot={shot} />
                  </Link>
                  <div className="words">
                    <div className="flex-grow-1 narrows">
                      <Link to={`/shots/${shot.id}/${shot.rows ? 'effects' : 'plates'}`}>{shot.code}</Link>
                      <div className="text-truncate">{shot.title}</div>
                      <div className="quiet num text-truncate fine">
                        {shot.width} x {shot.height} · {Math.round(framesPerSecond(shot.rate) * 100) / 100} fps ·{' '}
                        {secondsOf(shot.last - shot.first + 1, shot.rate).toFixed(1)} s
                      </div>
                      <div className="quiet fine">
                        {shot.rows === 1 ? '1 effect' : shot.rows ? `${shot.rows} effects` : 'no effects yet'}
                      </div>
                    </div>
                    <Dropdown align="end">
                      <Dropdown.Toggle as="button" className="icon-button" aria-label={`More for ${shot.code}`} title="More">
                        <Ellipsis size={16} />
                      </Dropdown.Toggle>
                      <Menu>
                        <Dropdown.Item onClick={() => setNaming(shot)}>Rename…</Dropdown.Item>
                        <Dropdown.Item onClick={() => act(call(duplicateShot, { params: { id: shot.id } }))}>Duplicate</Dropdown.Item>
                        <Dropdown.Item onClick={() => setBundle({ name: shot.code, path: `/shots/${shot.id}` })}>
                          Save as a bundle…
                        </Dropdown.Item>
                        <Dropdown.Item onClick={() => setChanging(shot)}>Changes from a file…</Dropdown.Item>
                        <Dropdown.Item onClick={() => remove(shot)}>Remove</Dropdown.Item>
                      </Menu>
                    </Dropdown>
                  </div>
                </article>
              ))}
            </div>
          </section>
        );
      })}
      {bundle && <BundleDialog {...bundle} onClose={() => setBundle(null)} />}
      {preferences && <PreferencesDialog onClose={() => setPreferences(false)} />}
      {changing && <ChangesDialog shot={changing} onClose={() => setChanging(null)} onSaid={(text) => setNotice({ text })} />}
      {newIn && (
        <NewShotDialog production={newIn} onClose={() => setNewIn(null)} onDone={(shot) => void navigate(`/shots/${shot.id}/plates`)} />
      )}
      {naming && (
        <NameDialog
          title="Rename shot"
          label="Code"
          start={naming.code}
          confirm="Rename"
          onClose={() => setNaming(null)}
          onDone={(code) => act(call(renameShot, { params: { id: naming.id }, body: { code } }))}
        />
      )}
      {newProduction && (
        <NameDialog
          title="New production"
          label="Name"
          start=""
          confirm="Make production"
          onClose={() => setNewProduction(false)}
          onDone={(name) => act(call(addProduction, { body: { name } }).then(() => productions.mutate()))}
        />
      )}
      <Notice
        text={notice?.text ?? null}
        action={notice?.undo ? 'Undo' : undefined}
        onAction={notice?.undo}
        onClose={() => setNotice(null)}
      />
    </main>
  );
}
