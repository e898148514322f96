import { Check, X } from 'lucide-react';
import { useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import type { TimeScale } from './scale';
import { acceptSuggestion, dismissSuggestion, stopSuggesting, suggestCues, useSuggestions } from './suggestions';

/** Looks for moments, says how far it is, and lets all that are left be dismissed. */
export function SuggestButton() {
  const { id } = useParts('id'),
    { shot, share, found } = useSuggestions();
  if (shot === id && share !== null)
    return (
      <button type="button" className="btn btn-quiet btn-sm py-0" onClick={stopSuggesting}>
        Looking, {Math.round(100 * share)} %: stop
      </button>
    );
  if (shot === id && found.length)
    return (
      <button type="button" className="btn btn-quiet btn-sm py-0" onClick={() => useSuggestions.setState({ found: [], open: null })}>
        Dismiss {found.length} suggested {found.length === 1 ? 'cue' : 'cues'}
      </button>
    );
  return (
    <button
      type="button"
      className="btn btn-quiet btn-sm py-0"
      title="Looks through the clip of the base and its tracks for cuts, flashes, changes of light, landings, stops and blinks"
      onClick={() => void suggestCues()}
    >
      Suggest cues
    </button>
  );
}

/** Suggested cues as pale flags; one that is pressed says why, and is accepted or dismissed. */
export function SuggestedFlags({ x }: { x: TimeScale }) {
  const { id, set } = useParts('id', 'set'),
    { shot, found, open } = useSuggestions();
  if (shot !== id) return null;
  return (
    <>
      {found.map((one) => (
        <button
          key={`${one.kind} ${one.frame}`}
          type="button"
          className={`flag suggested ${open === one ? 'selected' : ''}`}
          style={{ left: x(one.at) }}
          aria-label={`Suggested cue: ${one.kind} at ${one.at}`}
          title={`${one.kind}, ${one.at}: ${one.reason}`}
          onClick={() => {
            useSuggestions.setState({ open: open === one ? null : one });
            set({ playing: false, frame: one.at });
          }}
        />
      ))}
      {open && (
        <div className="suggestion" role="group" aria-label="Suggested cue" style={{ left: Math.min(x(open.at), x.range()[1]! - 300) }}>
          <span>
            <b>{open.kind}</b> {open.reason}
          </span>
          <IconButton small label="Make it a cue" onClick={() => acceptSuggestion(open)}>
            <Check size={14} />
          </IconButton>
          <IconButton small label="Dismiss" onClick={() => dismissSuggestion(open)}>
            <X size={14} />
          </IconButton>
        </div>
      )}
    </>
  );
}
