import { ownClips } from '@wraithos/core/shot';
import { ArrowLeft, Search, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { mutate } from 'swr';
import { addressOf, listStock, removeStock, stockStrip, type StockItem } from '@wraithos/contract';
import { STRIP_TILES } from '@wraithos/core/render';
import { call } from '../api/client';
import { keyOf, useRoute } from '../api/useRoute';
import { useDocument, useShot } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { useTracks } from '../workbench/tracks';
import { drop, startDrag, type Dragged } from './place';
import './elements.css';

/** A thing that can be put on the picture: dragged there, or clicked to stand in its middle. */
function Tile({ title, about, what, children }: { title: string; about: string; what: Dragged; children: React.ReactNode }) {
  const shot = useDocument(),
    tracks = useTracks();
  return (
    <button
      type="button"
      className="stock-tile"
      draggable
      title={`${about} Drag it onto the picture, or click to put it in the middle.`}
      onDragStart={(e) => startDrag(e, what)}
      onClick={() => void drop(what, [shot.width / 2, shot.height / 2], tracks, 1)}
    >
      {children}
      <span className="stock-name">{title}</span>
    </button>
  );
}

function StockTile({ item }: { item: StockItem }) {
  return (
    <div className="stock-cell">
      <Tile title={item.name} about={item.about} what={{ stock: item.id, loops: item.loops, light: item.light }}>
        <span className="stock-strip" aria-hidden>
          <span
            className="moving"
            style={{
              backgroundImage: `url("/api${addressOf(stockStrip, { id: item.id })}")`,
              width: `${STRIP_TILES * 100}%`,
              animationDuration: `${Math.max(1, item.frames / 24)}s`,
            }}
          />
        </span>
      </Tile>
      {item.own && (
        <span className="stock-remove">
          <IconButton
            small
            label={`Remove ${item.name} from the stockroom`}
            onClick={() =>
              void call(removeStock, { params: { id: item.id } })
                .then(() => mutate(keyOf(listStock)))
                .catch((error: Error) => useShot.getState().set({ notice: error.message }))
            }
          >
            <Trash2 size={12} />
          </IconButton>
        </span>
      )}
    </div>
  );
}

/** The drawer of elements in place of the stack: clips of this shot, one's own elements, and those that come with Wraithos. */
export function Stockroom({ onClose }: { onClose(): void }) {
  const shot = useDocument(),
    [text, setText] = useState(''),
    { data, error } = useRoute(listStock),
    fits = (name: string, about = '') => `${name} ${about}`.toLowerCase().includes(text.trim().toLowerCase()),
    clips = ownClips(shot).filter((c) => c.role !== 'clean' && fits(c.name)),
    own = data?.filter((item) => item.own && fits(item.name)) ?? [],
    ours = data?.filter((item) => !item.own && fits(item.name, item.about)) ?? [];
  return (
    <div className="stockroom">
      <div className="pane-title">
        <span className="d-flex align-items-center gap-1">
          <IconButton small label="Back to the stack" onClick={onClose}>
            <ArrowLeft size={14} />
          </IconButton>
          Stockroom
        </span>
      </div>
      <div className="px-3 pb-2 stock-search">
        <Search size={13} className="quiet" />
        <input
          type="search"
          className="form-control form-control-sm"
          placeholder="Find an element"
          aria-label="Find an element"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      {error && <p className="bad px-3">{error.message}</p>}
      {ours.length > 0 && (
        <section aria-label="Elements">
          <div className="stock-grid">
            {ours.map((item) => (
              <StockTile key={item.id} item={item} />
            ))}
          </div>
        </section>
      )}
      {own.length > 0 && (
        <section aria-label="Your elements">
          <h3 className="stock-title">Yours</h3>
          <div className="stock-grid">
            {own.map((item) => (
              <StockTile key={item.id} item={item} />
            ))}
          </div>
        </section>
      )}
      {clips.length > 0 && (
        <section aria-label="Clips of this shot">
          <h3 className="stock-title">Clips of this shot</h3>
          <div className="stock-grid">
            {clips.map((clip) => (
              <div key={clip.id} className="stock-cell">
                <Tile title={clip.name} about="" what={{ clip: clip.id }}>
                  <span className="stock-strip still">{clip.frames === 1 ? 'still' : `${clip.frames} frames`}</span>
                </Tile>
              </div>
            ))}
          </div>
        </section>
      )}
      {data && !ours.length && !own.length && !clips.length && <p className="quiet px-3">Nothing here is called like that.</p>}
    </div>
  );
}
