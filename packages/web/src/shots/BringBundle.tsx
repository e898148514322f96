import { useRef } from 'react';
import { sendBundle, takenOver, type TakenOver } from '@wraithos/contract';
import { FilePick } from '../ui/FilePick';
import { JobLine } from '../ui/JobLine';
import { useUpload } from './useImport';

const some = (n: number, one: string, many: string): string[] => (n ? [`${n} ${n === 1 ? one : many}`] : []);

/** What came in, in a sentence. */
function takenWords({ shots, same, media, recipes, renders }: TakenOver): string {
  const came = [
    ...(shots.length > 3 ? [`${shots.length} shots`] : shots),
    ...some(media, 'clip', 'clips'),
    ...some(recipes, 'recipe', 'recipes'),
    ...some(renders, 'render', 'renders'),
  ];
  const here = same ? `${same === 1 ? 'One shot is' : `${same} shots are`} here already, as it was saved.` : '';
  return `${came.length ? `Brought in: ${came.join(', ')}.` : 'Nothing new in it.'} ${here}`.trim();
}

/** Brings a bundle or a backup in, with its progress. */
export function BringBundle({ onSaid }: { onSaid(text: string): void }) {
  const field = useRef<HTMLInputElement>(null),
    { state, start, cancel } = useUpload(sendBundle, takenOver, (taken) => onSaid(takenWords(taken)), onSaid);
  return (
    <>
      <button type="button" className="btn btn-quiet btn-sm" disabled={state !== null} onClick={() => field.current?.click()}>
        Bring in a bundle
      </button>
      <FilePick
        field={field}
        label="Bundle to bring in"
        accept=".zip"
        onFiles={(found) => void start(found.map(({ file }) => ({ name: file.name, files: [file] })))}
      />
      {state && (
        <div className="bundle-job">
          <JobLine {...state} onCancel={cancel} />
        </div>
      )}
    </>
  );
}
