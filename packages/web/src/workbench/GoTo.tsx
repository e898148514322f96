import { useEffect, useRef, useState } from 'react';
import { typedMoment } from '@wraithos/core/time';
import { useParts, useShot } from '../state/shotStore';

/** Goes to a typed frame or timecode. */
export function GoTo({ onClose }: { onClose(): void }) {
  const { shot, set } = useParts('shot', 'set'),
    [text, setText] = useState(''),
    [problem, setProblem] = useState<string | null>(null),
    input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);
  const go = () => {
    const { first, last, rate } = shot!,
      found = typedMoment(text, { first, last, rate, now: useShot.getState().frame });
    if ('problem' in found) setProblem(found.problem);
    else {
      set({ playing: false, frame: found.frame });
      onClose();
    }
  };
  return (
    <form
      className="go-to"
      aria-label="Go to"
      onSubmit={(event) => {
        event.preventDefault();
        go();
      }}
    >
      <input
        ref={input}
        className="form-control form-control-sm num"
        aria-label="Frame or timecode to go to"
        aria-invalid={problem !== null}
        placeholder="1042, +10, 1:12, 2.5s"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setProblem(null);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onClose();
          event.stopPropagation();
        }}
        onBlur={onClose}
      />
      {problem && (
        <div className="problem bad" role="alert">
          {problem}
        </div>
      )}
    </form>
  );
}
