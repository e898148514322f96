/** What of a shot says when its clips and cues are. */
interface Moments {
  clips: Readonly<Record<string, { id: string; cue: string | null; continues: string | null; made: { clip: string | null } | null }>>;
  cues: Readonly<Record<string, { clip: string | null }>>;
}

/** A clip with whatever decides when it shows: the first of its parts, the later ones, and the clip whose frames its plate shows with. */
function family(shot: Moments, id: string): string[] {
  const it = shot.clips[id];
  if (!it) return [];
  const own = it.continues ?? id,
    parts = Object.values(shot.clips).filter((clip) => clip.continues === own);
  return [own, ...parts.map((part) => part.id), ...(it.made?.clip ? [it.made.clip] : [])];
}

/** True where a clip would wait for itself if it began at a cue: the cue is pinned, by way of others or at once, to what the clip shows. */
export function waitsForItself(shot: Moments, clip: string, cue: string): boolean {
  const seen = new Set<string>(),
    own = new Set(family(shot, clip));
  for (const other of Object.values(shot.clips)) if (other.made?.clip && own.has(other.made.clip)) own.add(other.id);
  const leadsBack = (id: string): boolean => {
    if (seen.has(id)) return false;
    seen.add(id);
    const pinned = shot.cues[id]?.clip;
    if (!pinned) return false;
    return family(shot, pinned).some((c) => {
      const next = shot.clips[c]?.cue;
      return own.has(c) || (!!next && leadsBack(next));
    });
  };
  return leadsBack(cue);
}

/** True where a cue can be pinned to a clip: nothing that begins with the cue decides when the clip shows. */
export function canPin(shot: Moments, cue: string, clip: string): boolean {
  const pinned = { clips: shot.clips, cues: { ...shot.cues, [cue]: { clip } } };
  return !Object.values(shot.clips).some((it) => it.cue === cue && waitsForItself(pinned, it.id, cue));
}
