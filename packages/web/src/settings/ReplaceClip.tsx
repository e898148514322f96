import { useRef, useState } from 'react';
import { Replace } from 'lucide-react';
import type { MediumInfo } from '@wraithos/contract';
import { replaceMedium, replaceProblem, replaceWords, type Clip } from '@wraithos/core/shot';
import { ProductionClips } from '../plates/ProductionClips';
import { useImport } from '../shots/useImport';
import { useParts, useShot } from '../state/shotStore';
import { FilePick } from '../ui/FilePick';
import { JobLine } from '../ui/JobLine';

/** Puts a newer version of a take in the place of a clip, from a file or from the production; what was measured stays. */
export function ReplaceClip({ clip }: { clip: Clip }) {
  const { edit, set } = useParts('edit', 'set'),
    field = useRef<HTMLInputElement>(null),
    [choosing, setChoosing] = useState(false);
  const replace = (hash: string, name: string, facts: MediumInfo) => {
    const now = useShot.getState().shot?.clips[clip.id];
    if (!now) return;
    const problem = replaceProblem(now, facts);
    if (problem) {
      set({ notice: `${name} was not taken. ${problem}` });
      return;
    }
    edit(replaceMedium(clip.id, { hash }, facts));
    set({
      notice: {
        text: `${now.name} shows ${name} now; what was measured stays. ${replaceWords(now, facts)}`.trim(),
        action: { label: 'Undo', run: () => useShot.getState().undo() },
      },
    });
  };
  const bring = useImport(
    ({ hash, name, info }) => replace(hash, name, info),
    (notice) => set({ notice }),
  );
  return (
    <div className="mt-2">
      <button type="button" className="btn btn-quiet btn-sm" disabled={bring.state !== null} onClick={() => field.current!.click()}>
        <Replace size={14} className="me-1" />
        Replace by a newer version
      </button>
      <button type="button" className="btn btn-quiet btn-sm" disabled={bring.state !== null} onClick={() => setChoosing(true)}>
        From the production
      </button>
      <FilePick field={field} label="Newer version" multiple onFiles={(found) => void bring.start(found)} />
      {bring.state && <JobLine {...bring.state} onCancel={bring.cancel} />}
      {choosing && (
        <ProductionClips
          title={`In place of ${clip.name}`}
          onClose={() => setChoosing(false)}
          onChoose={({ hash, name, info }) => {
            setChoosing(false);
            replace(hash, name, info);
          }}
        />
      )}
    </div>
  );
}
