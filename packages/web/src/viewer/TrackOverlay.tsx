import { useMemo, useState } from 'react';
import { Group } from 'react-konva';
import { isMeasured, knownSamples, placeAt, trackKinds, type Correction, type Place, type Point } from '@wraithos/core/motion';
import { appearanceOf, changeTrack, clipFrame, correctTrack, onClip, onPicture, setTrackValues, type Track } from '@wraithos/core/shot';
import { framesOf, type Tracks } from '@wraithos/core/render';
import { useDocument, useShot, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { colours, Knob, Label, Outlined, Ring } from './marks';
import { toPicture, toScreen, type Space } from './space';
import { Axes, Grid, Way } from './trackMarks';

/** More tracks than this cover the picture with their names: then each says its own under the pointer alone. */
const NAMED = 6;

/** Points on the picture: all tracks as rings, the selected one with its way, its pattern and search box, and a handle to correct it. */
export function TrackOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, selection, set } = useParts('frame', 'selection', 'set'),
    isSelected = (track: Track) => selection?.kind === 'track' && selection.id === track.id,
    // A gate stands where the track stands that it goes by.
    all = Object.values(shot.tracks).filter((track) => !trackKinds[track.kind].opens || isSelected(track));
  return (
    <>
      {all.map((track) => (
        <One
          key={track.id}
          track={track}
          space={space}
          frame={frame}
          samples={tracks}
          selected={isSelected(track)}
          named={all.length <= NAMED}
          onSelect={() => set({ selection: { kind: 'track', id: track.id } })}
        />
      ))}
    </>
  );
}

/** What a frame that is set by hand keeps of what was there. */
const keptOf = (place: Place | null): Pick<Correction, 'turn' | 'growth'> =>
  place && (place.rotation !== 0 || place.scale !== 1) ? { turn: place.rotation, growth: place.scale } : {};

function One({
  track,
  space,
  frame,
  samples,
  selected,
  named,
  onSelect,
}: {
  track: Track;
  space: Space;
  frame: number;
  samples: Tracks;
  selected: boolean;
  /** Its name stands beside it, also without the pointer. */
  named: boolean;
  onSelect(): void;
}) {
  const shot = useDocument(),
    { edit, preview } = useParts('edit', 'preview'),
    clip = shot.clips[track.clip];
  const known = useMemo(() => knownSamples(samples.get(track.id) ?? [], track), [samples, track]),
    mounts = useMemo(() => framesOf(shot, samples), [shot, samples]),
    [over, setOver] = useState(false);
  if (!clip) return null;
  // What was measured is in the clip's pixels, at its frames.
  const at = clipFrame(shot, clip, frame),
    look = appearanceOf(shot, clip, frame),
    kind = trackKinds[track.kind],
    carried = mounts.ofTrack(track.id, at),
    measured = placeAt(known, at),
    sample = known.find((s) => s.frame === at),
    state = isMeasured(kind) ? sample?.state : carried?.lost ? 'lost' : undefined,
    first = at === track.frame && isMeasured(kind),
    unmeasured = known.length === 0;
  const place: Point = first || !carried ? track.at : carried.toPicture([0, 0]),
    onScreen = (p: Point) => toScreen(space, ...onPicture(look, p)),
    [x, y] = onScreen(place);
  const bad = state === 'lost' || state === 'weak',
    colour = bad ? colours.trouble : colours.mount;
  const { corners: cornerNames } = kind,
    drawn = cornerNames ? (track as unknown as Record<string, [number, number]>) : null,
    corners: readonly Point[] | null = !cornerNames
      ? null
      : first || !measured?.corners
        ? cornerNames.map((name) => [place[0] + drawn![name]![0], place[1] + drawn![name]![1]])
        : measured.corners;
  // Dragging moves the start of a track that was not measured yet (or at its first frame), and corrects any other frame.
  const placed = (to: [number, number]) =>
    !kind.keyed && (unmeasured || first)
      ? changeTrack(track.id, { at: to, ...(unmeasured ? { frame: at } : {}) })
      : correctTrack(track.id, at, { ...keptOf(measured), at: to });
  const moved = (sx: number, sy: number) => placed(onClip(look, toPicture(space, sx, sy)));
  const cornerMoved = (i: number) => (sx: number, sy: number) => {
    const to = onClip(look, toPicture(space, sx, sy)),
      begun = useShot.getState().shot?.tracks[track.id] ?? track;
    if (unmeasured || first) return setTrackValues(track.id, { [cornerNames![i]!]: [to[0] - begun.at[0], to[1] - begun.at[1]] });
    return correctTrack(track.id, at, {
      ...{ ...keptOf(measured), at: [place[0], place[1]] },
      corners: corners!.map(([u, v], k): [number, number] => (k === i ? [to[0], to[1]] : [u, v])),
    });
  };
  // What turns and grows is drawn so.
  const [xu, yu, xv, yv] = carried && !cornerNames ? carried.slopesAt([0, 0]) : [1, 0, 0, 1];
  const square = (side: number) => {
    const h = side / 2,
      [px, py] = place;
    return [
      [-h, -h],
      [h, -h],
      [h, h],
      [-h, h],
    ].flatMap(([u, v]) => onScreen([px + xu * u! + xv * v!, py + yu * u! + yv * v!]));
  };
  // Where a box is small on the screen its handle stands further out, so that the point can still be taken hold of.
  const { boxes } = kind,
    side = (name: string, of: Track) => (of as unknown as Record<string, number>)[name]!,
    corner = (name: string, of: Track) => Math.max((side(name, of) / 2) * space.zoom, 17 + 13 * boxes.indexOf(name));
  const resized = (name: string) => (sx: number, sy: number) => {
    // What was saved last is what the drag began with.
    const begun = useShot.getState().shot?.tracks[track.id] ?? track,
      to = side(name, begun) + (2 * (Math.max(Math.abs(sx - x), Math.abs(sy - y)) - corner(name, begun))) / space.zoom;
    return setTrackValues(track.id, { [name]: to });
  };
  return (
    <Group onMouseEnter={() => setOver(true)} onMouseLeave={() => setOver(false)}>
      {selected && carried && <Axes frame={carried} onScreen={onScreen} />}
      {selected && <Way track={track} known={known} mounts={mounts} at={at} clip={clip} onScreen={onScreen} />}
      {corners && (
        <Outlined
          points={corners.flatMap((p) => onScreen(p))}
          closed
          colour={colour}
          width={selected ? 1.4 : 1}
          dash={bad ? [5, 4] : undefined}
        />
      )}
      {selected && corners && cornerNames && (
        <Grid corners={corners} colour={colour} onScreen={onScreen} goesOn={kind.goesOn} width={clip.width} />
      )}
      {selected &&
        corners?.map((p, i) => {
          const [cx, cy] = onScreen(p);
          return (
            <Knob
              key={cornerNames![i]}
              x={cx}
              y={cy}
              square
              size={4.5}
              colour={colour}
              name={`corner-${track.id}-${i}`}
              onMove={(sx, sy) => preview(cornerMoved(i)(sx, sy))}
              onEnd={(sx, sy) => edit(cornerMoved(i)(sx, sy))}
            />
          );
        })}
      {selected &&
        boxes.map((name, i) => (
          <Outlined
            key={name}
            points={square(side(name, track))}
            closed
            colour={colour}
            dash={i ? [5, 4] : undefined}
            width={i ? 1 : undefined}
          />
        ))}
      {!selected && <Ring x={x} y={y} radius={7} colour={colour} dash={bad ? [3, 3] : undefined} />}
      {selected &&
        boxes.map((name) => {
          const h = corner(name, track);
          return (
            <Knob
              key={name}
              x={x + h}
              y={y + h}
              square
              size={4}
              colour={colour}
              cursor="nwse-resize"
              onMove={(sx, sy) => preview(resized(name)(sx, sy))}
              onEnd={(sx, sy) => edit(resized(name)(sx, sy))}
            />
          );
        })}
      <Knob
        x={x}
        y={y}
        colour={colour}
        size={selected ? 5 : 3}
        name={`track-${track.id}`}
        onClick={onSelect}
        onMove={(sx, sy) => {
          onSelect();
          preview(moved(sx, sy));
        }}
        onEnd={(sx, sy) => edit(moved(sx, sy))}
      />
      {(selected || named || over) && (
        <Label x={x + 10} y={y - 16} text={`${track.name}${bad ? ` ${state}` : ''}`} colour={bad ? '#ffb3a3' : colours.light} />
      )}
    </Group>
  );
}
