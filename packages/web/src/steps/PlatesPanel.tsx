import { Film, FolderInput, Image, Layers2, Library, Plus } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { addClip, clipOf, clipWithRole, freshId, ownSubject, setShot, together, type Clip } from '@wraithos/core/shot';
import { useShot, useParts } from '../state/shotStore';
import { ProductionClips } from '../plates/ProductionClips';
import { roleWords } from '../settings/roleWords';
import type { Imported } from '@wraithos/contract';
import { startDrag } from '../elements/place';
import { FirstPicture } from '../shots/FirstPicture';
import { filesOfDrop } from '../shots/groups';
import { useImport } from '../shots/useImport';
import { JobLine } from '../ui/JobLine';
import { useChecks } from '../workbench/useChecks';
import { FilePick } from '../ui/FilePick';
import { IconButton } from '../ui/IconButton';
import { LongList } from '../ui/LongList';

/** The first clip is the performance, a still that follows it the clean plate; everything else is an element until somebody says more. */
function roleFor(shot: Parameters<typeof clipWithRole>[0], medium: Imported): Clip['role'] {
  if (!clipWithRole(shot, 'performance')) return 'performance';
  return !clipWithRole(shot, 'clean') && /clean/i.test(medium.name) ? 'clean' : 'element';
}

/** Clips of the shot. Files are dropped anywhere on the workbench or chosen in a dialog. */
export function PlatesPanel() {
  const { shot, selection, set, edit } = useParts('shot', 'selection', 'set', 'edit'),
    input = useRef<HTMLInputElement>(null),
    folder = useRef<HTMLInputElement>(null),
    [over, setOver] = useState(false),
    checks = useChecks();
  const done = (medium: Imported) => {
    const s = useShot.getState().shot!,
      id = freshId(s.clips, 'c'),
      i = medium.info,
      role = roleFor(s, medium),
      empty = Object.keys(s.clips).length === 0;
    // A clean plate was filmed at another time, so its light may be another one.
    const clip = clipOf({ id, file: medium.name, role, media: { hash: medium.hash }, facts: i, start: s.first }),
      add = addClip({ ...clip, matchLight: role === 'clean' }, id);
    const fit = setShot({ width: i.width, height: i.height, rate: i.frameRate, last: s.first + i.frames - 1 });
    edit(together(add.name, add, empty && i.frames > 1 ? fit : null, ownSubject(id)));
    set({ selection: { kind: 'clip', id } });
  };
  const [choosing, setChoosing] = useState(false);
  const bring = useImport(done, (notice) => set({ notice })),
    start = useRef(bring.start);
  start.current = bring.start;
  useEffect(() => {
    const files = (e: DragEvent) => e.dataTransfer?.types.includes('Files');
    const enter = (e: DragEvent) => {
        if (files(e)) {
          e.preventDefault();
          setOver(true);
        }
      },
      leave = (e: DragEvent) => {
        if (!e.relatedTarget) setOver(false);
      };
    const drop = (e: DragEvent) => {
      if (!files(e)) return;
      e.preventDefault();
      setOver(false);
      if (e.dataTransfer) void filesOfDrop(e.dataTransfer).then((found) => start.current(found));
    };
    addEventListener('dragover', enter);
    addEventListener('dragleave', leave);
    addEventListener('drop', drop);
    return () => {
      removeEventListener('dragover', enter);
      removeEventListener('dragleave', leave);
      removeEventListener('drop', drop);
    };
  }, []);
  if (!shot) return null;
  const clips = Object.values(shot.clips);
  return (
    <>
      <div className="pane-title">
        <span>Clips</span>
        <button type="button" className="btn btn-quiet btn-sm py-0" disabled={bring.state !== null} onClick={() => input.current!.click()}>
          <Plus size={13} className="me-1" />
          Bring in
        </button>
        <IconButton label="Bring in a folder" disabled={bring.state !== null} onClick={() => folder.current!.click()}>
          <FolderInput size={14} />
        </IconButton>
        <IconButton label="Clips of the production" onClick={() => setChoosing(true)}>
          <Library size={14} />
        </IconButton>
      </div>
      <FilePick field={input} label="Files to bring in" multiple onFiles={(found) => void bring.start(found)} />
      <FilePick field={folder} label="Folder to bring in" folder onFiles={(found) => void bring.start(found)} />
      {bring.state && (
        <div className="px-3">
          <JobLine {...bring.state} onCancel={bring.cancel} />
          {bring.state.coming && <FirstPicture medium={bring.state.coming} width={204} />}
        </div>
      )}
      <LongList
        className="clips"
        items={clips}
        size={46}
        draw={(clip, top) => (
          <button
            key={clip.id}
            type="button"
            style={{ position: 'absolute', top }}
            draggable
            onDragStart={(e) => startDrag(e, { clip: clip.id })}
            className={`list-item ${selection?.kind === 'clip' && selection.id === clip.id ? 'selected' : ''}`}
            onClick={() => set({ selection: { kind: 'clip', id: clip.id } })}
          >
            {clip.frames > 1 ? <Film size={15} className="quiet flex-shrink-0" /> : <Image size={15} className="quiet flex-shrink-0" />}
            <span className="grow">
              <div title={clip.name}>
                {clip.name}
                {checks.some((c) => c.clip === clip.id) && (
                  <span className="warn ms-1" title={checks.find((c) => c.clip === clip.id)!.text}>
                    !
                  </span>
                )}
              </div>
              <div className="quiet">
                {clip.continues === null ? roleWords[clip.role] : `Later part of ${shot.clips[clip.continues]?.name ?? 'a clip'}`}
                {shot.base.takes.some((take) => take.clip === clip.id) ? ', base' : ''}
              </div>
            </span>
          </button>
        )}
      />
      {clips.length === 0 && !bring.state && (
        <p className="quiet px-3 py-2">No clips yet. Drop videos, stills or folders of numbered pictures here, or use Bring in.</p>
      )}
      {clips.length > 0 && (
        <button
          type="button"
          className={`list-item ${selection?.kind === 'base' ? 'selected' : ''}`}
          onClick={() => set({ selection: { kind: 'base', id: 'base' } })}
        >
          <Layers2 size={15} className="quiet flex-shrink-0" />
          <span className="grow">
            <div>Base</div>
            <div className="quiet">takes, background, grain, edges</div>
          </span>
        </button>
      )}
      {over && <div className="drop-target">Drop to bring in</div>}
      {choosing && (
        <ProductionClips
          title="Clips of the production"
          onClose={() => setChoosing(false)}
          onChoose={({ hash, name, info }) => {
            setChoosing(false);
            done({ hash, name, info, note: '' });
          }}
        />
      )}
    </>
  );
}
