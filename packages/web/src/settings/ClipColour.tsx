import { useRef } from 'react';
import { primariesNames, transferNames } from '@wraithos/core/image';
import { changeClip, gapsShow, type Clip } from '@wraithos/core/shot';
import { useImport } from '../shots/useImport';
import { useParts } from '../state/shotStore';
import { FilePick } from '../ui/FilePick';
import { JobLine } from '../ui/JobLine';
import { ChoiceField } from './fields';

const transferWords = { srgb: 'sRGB', rec709: 'Rec.709', linear: 'Linear', pq: 'PQ (ST 2084)', acescct: 'ACEScct' } as const,
  primariesWords = { rec709: 'Rec.709', 'p3-d65': 'P3-D65', rec2020: 'Rec.2020', acescg: 'ACEScg' } as const,
  gapWords = { 'the picture before': 'Picture before', black: 'Black' } as const,
  alphaKinds = ['straight', 'premultiplied'] as const;

/** How the codes of a clip become light: the file says it where it can, and anything else is chosen here. */
export function ClipColour({ clip }: { clip: Clip }) {
  const { edit, set } = useParts('edit', 'set'),
    field = useRef<HTMLInputElement>(null),
    change = (to: Parameters<typeof changeClip>[1]) => edit(changeClip(clip.id, to)),
    bring = useImport(
      ({ hash, name, info }) => {
        const { low, high, curves } = info.domain!;
        change({ lut: { name: name.slice(0, 120), media: { hash }, kind: curves ? 'curves' : 'cube', size: info.width, low, high } });
      },
      (notice) => set({ notice }),
      undefined,
      'table',
    ),
    missing = clip.missing.reduce((n, [first, last]) => n + last - first + 1, 0);
  return (
    <>
      <h3>Colour</h3>
      <div className="field">
        <span>Camera table</span>
        <button
          type="button"
          className="btn btn-quiet btn-sm ms-auto text-truncate"
          title="A .cube file that its codes go through first, such as one that undoes a camera's log"
          disabled={bring.state !== null}
          onClick={() => field.current!.click()}
        >
          {clip.lut ? clip.lut.name : 'Choose .cube'}
        </button>
        {clip.lut && (
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            aria-label="Take the camera table away"
            onClick={() => change({ lut: null })}
          >
            None
          </button>
        )}
      </div>
      <FilePick field={field} label="Camera table" accept=".cube" onFiles={(found) => void bring.start(found)} />
      {bring.state && <JobLine {...bring.state} onCancel={bring.cancel} />}
      <ChoiceField
        label="Transfer curve"
        value={clip.transfer}
        of={transferNames}
        words={transferWords}
        onChange={(transfer) => change({ transfer })}
      />
      <ChoiceField
        label="Primaries"
        value={clip.primaries}
        of={primariesNames}
        words={primariesWords}
        onChange={(primaries) => change({ primaries })}
      />
      {clip.alpha && (
        <ChoiceField
          label="Alpha"
          value={alphaKinds[Number(clip.premultiplied)]!}
          of={alphaKinds}
          words={{ straight: 'Straight', premultiplied: 'Premultiplied' }}
          onChange={(kind) => change({ premultiplied: kind === 'premultiplied' })}
        />
      )}
      {missing > 0 && (
        <ChoiceField
          label={`${missing} missing ${missing === 1 ? 'frame' : 'frames'}`}
          value={clip.gaps}
          of={gapsShow}
          words={gapWords}
          onChange={(gaps) => change({ gaps })}
        />
      )}
      <p className="quiet mt-1 mb-0">All pictures are worked on as linear light with Rec.709 primaries; values above white are kept.</p>
    </>
  );
}
