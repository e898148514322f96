import { Download, FileUp } from 'lucide-react';
import { useRef } from 'react';
import { outlinesOfSvg, svgOfOutlines } from '@wraithos/core/matte';
import { framesOf, outlineAt } from '@wraithos/core/render';
import { addOutline, matteClip, together, type Matte } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { download } from '../ui/download';
import { FilePick } from '../ui/FilePick';
import { useTracks } from '../workbench/tracks';

/** Writes the outlines of a matte as they stand on this frame into an SVG file, and reads paths of one in as outlines that are keyed here. */
export function OutlineFiles({ matte, at }: { matte: Matte; at: number }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { edit, set, frame } = useParts('edit', 'set', 'frame'),
    field = useRef<HTMLInputElement>(null),
    { width, height } = matteClip(shot, matte) ?? shot;
  const save = () => {
    const mounts = framesOf(shot, tracks),
      outlines = matte.outlines.map((o) => ({ name: o.name, mode: o.mode, vertices: outlineAt(o, at, mounts).vertices }));
    download(`${shot.code} ${matte.name} ${frame}.svg`, svgOfOutlines(width, height, outlines), 'image/svg+xml');
  };
  const read = async (file: File) => {
    try {
      const all = outlinesOfSvg(await file.text(), file.name);
      edit(together('Bring in outlines', ...all.map((vertices) => addOutline(matte.id, 'add', vertices, 0, at))));
    } catch (error) {
      set({ notice: (error as Error).message });
    }
  };
  return (
    <div className="d-flex flex-wrap gap-1 mt-1">
      <button
        type="button"
        className="btn btn-quiet btn-sm"
        disabled={!matte.outlines.length}
        title="The outlines as they stand on this frame, in pixels of the clip"
        onClick={save}
      >
        <Download size={12} className="me-1" />
        Save as SVG
      </button>
      <button
        type="button"
        className="btn btn-quiet btn-sm"
        title="Paths of an SVG file become outlines, keyed on this frame"
        onClick={() => field.current?.click()}
      >
        <FileUp size={12} className="me-1" />
        Bring in SVG
      </button>
      <FilePick field={field} label="SVG file" accept=".svg" onFiles={(found) => void (found[0] && read(found[0].file))} />
    </div>
  );
}
