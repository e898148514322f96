import { useEffect, useRef, useState } from 'react';
import { skins, type Skin } from '@wraithos/core/render';
import { changeClip, matchLight, matchPlace, ownClips, whyNotMatch, type Clip } from '@wraithos/core/shot';
import { useDocument, useParts, useShot } from '../state/shotStore';
import { Dropped, measurer } from '../workers/pool';
import type { WorkerAnswer } from '../workers/protocol';
import { ChoiceField } from './fields';

type What = 'offset' | 'place' | 'light';
const round = (n: number, digits: number) => Number(n.toFixed(digits));
/** Below this likeness an offset is to be looked at; below this share of the picture no place is better than another (open sea and grain agree with none). */
const HARDLY = 0.25,
  NOWHERE = 0.06;

/** Another take beside a clip: laid over it to look at, and found in time, place and light. */
export function TakeMatch({ clip }: { clip: Clip }) {
  const shot = useDocument(),
    { skin, frame, edit, set } = useParts('skin', 'frame', 'edit', 'set'),
    others = ownClips(shot).filter((c) => c.id !== clip.id && c.role !== 'clean'),
    [chosen, choose] = useState<string | null>(null),
    [busy, setBusy] = useState<What | null>(null),
    [told, tell] = useState(''),
    control = useRef<AbortController | null>(null);
  // Whoever goes to another clip waits for it no more.
  useEffect(() => () => control.current?.abort(), [clip.id]);
  if (!others.length || clip.role === 'clean') return null;
  const usual = others.find((c) => c.role === 'performance') ?? others[0]!,
    other = shot.clips[skin && skin.clip !== clip.id ? skin.clip : (chosen ?? '')] ?? usual,
    how: Skin | 'off' = skin?.clip === other.id ? skin.how : 'off';

  async function find(what: What): Promise<void> {
    setBusy(what);
    tell('');
    control.current = new AbortController();
    try {
      const found = (await measurer().ask(
        { kind: 'takes', shot, clip: clip.id, other: other.id, frame, what },
        0,
        control.current.signal,
      )) as Extract<WorkerAnswer, { kind: 'takes' }>;
      // It may have been changed meanwhile; what was found is against how it stood then.
      const now = useShot.getState().shot?.clips[clip.id];
      if (!now || now.placed !== clip.placed || now.start !== clip.start) {
        tell(`${clip.name} was changed while it was measured. Nothing was done; try again.`);
        return;
      }
      if (what === 'offset') {
        const { offset } = found;
        if (!offset) tell('Nothing moves in one of them, so no offset is better than another.');
        else {
          if (offset.by !== 0) edit(changeClip(clip.id, { start: clip.start + offset.by }));
          const likeness = Math.round(100 * offset.likeness);
          tell(
            `${offset.by === 0 ? 'It stands at its best offset' : `Moved by ${offset.by} frames`}: what moves is ${likeness} % alike.${
              offset.likeness < HARDLY ? ' That is little; look whether it is right.' : ''
            }`,
          );
        }
      } else if (what === 'place' && found.place) {
        const { shift, turn, size, agrees } = found.place;
        if (agrees < NOWHERE) tell(`Only ${Math.round(100 * agrees)} % of the picture agrees on one place; nothing was changed.`);
        else {
          edit(matchPlace(shot, clip.id, found.place));
          tell(
            `Moved by ${round(shift[0], 2)}, ${round(shift[1], 2)} px, turned by ${round(turn, 2)}°, sized by ${round(100 * size, 2)} %: ${Math.round(100 * agrees)} % of the picture agrees.`,
          );
        }
      } else if (found.light) {
        edit(matchLight(shot, clip.id, found.light));
        tell(`Red, green and blue by ${found.light.map((g) => `${round(100 * g, 1)} %`).join(', ')}.`);
      }
    } catch (error) {
      if (!(error instanceof Dropped)) tell((error as Error).message);
    } finally {
      setBusy(null);
    }
  }
  const button = (what: What, label: string, why: string | null) => (
    <button
      type="button"
      className="btn btn-quiet btn-sm mt-1 d-block"
      disabled={busy !== null || why !== null}
      title={why ?? undefined}
      onClick={() => void find(what)}
    >
      {busy === what ? `${label} …` : label}
    </button>
  );
  return (
    <section aria-label="Another take">
      <h3>Another take</h3>
      <ChoiceField
        label="Compared with"
        value={other.id}
        of={others.map((c) => c.id)}
        words={Object.fromEntries(others.map((c) => [c.id, c.name]))}
        onChange={(id) => {
          choose(id);
          if (how !== 'off') set({ skin: { clip: id, how } });
        }}
      />
      <ChoiceField
        label="Onion skin"
        help="Both over each other: half of each; their difference; or in two tints: light that only this one has in orange, light that only the other has in blue, grey where they are alike."
        value={how}
        of={['off', ...skins]}
        onChange={(to) => set({ skin: to === 'off' ? null : { clip: other.id, how: to as Skin } })}
      />
      {clip.frames > 1 && other.frames > 1 && button('offset', 'Find the best offset', null)}
      {button('place', 'Match its place at this frame', whyNotMatch(clip, 'place'))}
      {button('light', 'Match its light at this frame', whyNotMatch(clip, 'light'))}
      {busy && (
        <button type="button" className="btn btn-quiet btn-sm mt-1" onClick={() => control.current?.abort()}>
          Stop
        </button>
      )}
      {told && (
        <p className="quiet mt-1" role="status">
          {told}
        </p>
      )}
    </section>
  );
}
