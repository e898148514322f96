import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import { groundParams, matchKind, matchParams, transitionParams } from '@wraithos/core/placing';
import { effectOf } from '@wraithos/core/effects';
import {
  addTake,
  changeGround,
  changeMatch,
  changeTake,
  freshId,
  leadingRow,
  moveTake,
  ownClips,
  removeTake,
  takeStart,
  type Shot,
  type Take,
  usesOf,
  offeredMattes,
} from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { ChoiceField } from './fields';
import { StartsWith } from './StartsWith';
import { ParamFields, plainTarget } from './ParamFields';

/** What everything stands on: takes one after another, how each comes in, and what lies behind them. */
export function BaseSettings() {
  const shot = useDocument(),
    { edit, frame } = useParts('edit', 'frame'),
    clips = ownClips(shot),
    words = Object.fromEntries([['', 'none'], ...clips.map((c) => [c.id, c.name])]),
    { takes, ground, match } = shot.base;
  return (
    <>
      <h2>Base</h2>
      <p className="quiet">Takes one after another, over what lies behind them.</p>
      {takes.map((take, i) => (
        <TakeFields key={take.id} take={take} i={i} count={takes.length} />
      ))}
      <button
        type="button"
        className="btn btn-quiet btn-sm mt-1"
        disabled={!clips.length}
        onClick={() => {
          const next = clips.find((c) => !takes.some((t) => t.clip === c.id) && c.role !== 'clean') ?? clips[0]!;
          edit(addTake(freshId(takes, 'b'), next.id, frame));
        }}
      >
        Add a take at this frame
      </button>
      <h3>Background</h3>
      <ParamFields
        params={groundParams}
        title=""
        target={plainTarget(groundParams, ground.values, (name, value) =>
          changeGround({
            values: { [name]: value as never },
            // A still that nobody uses yet is meant, as a rule.
            ...(value === 'clip' && !ground.clip ? { clip: unused(shot)?.id ?? null } : {}),
          }),
        )}
      />
      {ground.values.ground === 'clip' && (
        <ChoiceField
          label="Clip"
          value={ground.clip ?? ''}
          of={['', ...clips.map((c) => c.id)]}
          words={words}
          onChange={(clip) => edit(changeGround({ clip: clip || null }))}
        />
      )}
      <h3>{matchKind.title}</h3>
      <ParamFields
        params={matchParams}
        title=""
        target={plainTarget(matchParams, match, (name, value) => changeMatch({ [name]: value as never }))}
      />
    </>
  );
}

/** The clip that is likely to be a background: one that is no take and used nowhere, a still before a moving one. */
function unused(shot: Shot) {
  const free = ownClips(shot).filter((c) => c.role === 'element' && !c.alpha && !usesOf(shot, 'clip', c.id).length);
  return free.find((c) => c.frames === 1) ?? free[0];
}

function TakeFields({ take, i, count }: { take: Take; i: number; count: number }) {
  const shot = useDocument(),
    { edit } = useParts('edit'),
    clips = ownClips(shot),
    led = take.values.transition === 'led by a matte',
    byEffect = take.values.transition === 'led by an effect',
    leaders = Object.values(shot.rows).filter((row) => effectOf(row.effect)?.passed);
  return (
    <section aria-label={`Take ${i + 1}`}>
      <div className="d-flex align-items-center">
        <h3 className="flex-grow-1">Take {i + 1}</h3>
        <IconButton small label="Earlier" disabled={i === 0} onClick={() => edit(moveTake(take.id, -1))}>
          <ArrowUp size={13} />
        </IconButton>
        <IconButton small label="Later" disabled={i === count - 1} onClick={() => edit(moveTake(take.id, 1))}>
          <ArrowDown size={13} />
        </IconButton>
        <IconButton small label={`Remove take ${i + 1}`} onClick={() => edit(removeTake(take.id))}>
          <Trash2 size={13} />
        </IconButton>
      </div>
      <ChoiceField
        label="Clip"
        value={take.clip}
        of={clips.map((c) => c.id)}
        words={Object.fromEntries(clips.map((c) => [c.id, c.name]))}
        onChange={(clip) => edit(changeTake(take.id, { clip }))}
      />
      {i > 0 && (
        <>
          {!leadingRow(shot, take) && <ComesIn take={take} />}
          <ParamFields
            params={transitionParams}
            title=""
            target={plainTarget(transitionParams, take.values, (name, value) =>
              changeTake(take.id, { values: { [name]: value as never } }),
            )}
          />
          {byEffect && (
            <ChoiceField
              label="Led by"
              help="The new take shows where the front of this effect has passed, from the effect's first frame to its last: a dissolve, a ring or ripple that grows."
              value={take.row ?? ''}
              of={['', ...leaders.map((row) => row.id)]}
              words={Object.fromEntries([
                ['', leaders.length ? 'choose an effect' : 'no effect has a front'],
                ...leaders.map((row) => [row.id, row.name]),
              ])}
              onChange={(row) => edit(changeTake(take.id, { row: row || null }))}
            />
          )}
          {led && (
            <ChoiceField
              label="Led by"
              help="The new take shows where this matte is white: an outline that grows, or any other matte that changes."
              value={take.matte ?? ''}
              of={['', ...offeredMattes(shot).map((m) => m.id)]}
              words={Object.fromEntries([['', 'choose a matte'], ...offeredMattes(shot).map((m) => [m.id, m.name])])}
              onChange={(matte) => edit(changeTake(take.id, { matte: matte || null }))}
            />
          )}
        </>
      )}
    </section>
  );
}

/** The frame or cue at which a take comes in. */
function ComesIn({ take }: { take: Take }) {
  const shot = useDocument();
  return (
    <StartsWith
      label="Comes in with"
      atFrame="At frame"
      cue={take.cue}
      start={take.start}
      at={takeStart(shot, take)}
      change={(to) => changeTake(take.id, to)}
    />
  );
}
