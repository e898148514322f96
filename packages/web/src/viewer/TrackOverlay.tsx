import { Group } from 'react-konva';
import { correctedSamples, placeAt, trackKinds } from '@wraithos/core/motion';
import { appearanceOf, changeTrack, clipFrame, correctTrack, onClip, onPicture, setTrackValues, type Track } from '@wraithos/core/shot';
import type { Tracks } from '@wraithos/core/render';
import { useDocument, useShot, useParts } from '../state/shotStore';
import { useTracks } from '../workbench/tracks';
import { colours, Knob, Label, Outlined, Ring } from './marks';
import { toPicture, toScreen, type Space } from './space';

/** Points on the picture: all tracks as rings, the selected one with its way, its pattern and search box, and a handle to correct it. */
export function TrackOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, selection, set } = useParts('frame', 'selection', 'set');
  return (
    <>
      {Object.values(shot.tracks).map((track) => (
        <One
          key={track.id}
          track={track}
          space={space}
          frame={frame}
          samples={tracks}
          selected={selection?.kind === 'track' && selection.id === track.id}
          onSelect={() => set({ selection: { kind: 'track', id: track.id } })}
        />
      ))}
    </>
  );
}

function One({
  track,
  space,
  frame,
  samples,
  selected,
  onSelect,
}: {
  track: Track;
  space: Space;
  frame: number;
  samples: Tracks;
  selected: boolean;
  onSelect(): void;
}) {
  const shot = useDocument(),
    { edit, preview } = useParts('edit', 'preview'),
    clip = shot.clips[track.clip];
  if (!clip) return null;
  // What was measured is in the clip's pixels, at its frames.
  const at = clipFrame(shot, clip, frame),
    look = appearanceOf(shot, clip, frame),
    all = correctedSamples(samples.get(track.id) ?? [], track.corrections),
    measured = placeAt(all, at),
    state = all.find((s) => s.frame === at)?.state;
  const place: [number, number] = at === track.frame || !measured ? track.at : [measured.x, measured.y],
    onScreen = (p: readonly [number, number]) => toScreen(space, ...onPicture(look, p)),
    [x, y] = onScreen(place);
  const unmeasured = all.length === 0,
    bad = state === 'lost' || state === 'weak',
    colour = bad ? colours.trouble : colours.mount;
  // Dragging moves the start of a track that was not measured yet (or at its first frame), and corrects any other frame.
  const moved = (sx: number, sy: number) => {
    const to = onClip(look, toPicture(space, sx, sy));
    return unmeasured || at === track.frame
      ? changeTrack(track.id, { at: to, ...(unmeasured ? { frame: at } : {}) })
      : correctTrack(track.id, at, to);
  };
  // What turns and grows is drawn so.
  const carried = measured && trackKinds[track.kind].frame({ samples: all, other: null, reference: track.frame }, at),
    [xu, yu, xv, yv] = carried?.slopesAt([0, 0]) ?? [1, 0, 0, 1];
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
  const { boxes } = trackKinds[track.kind],
    side = (name: string, of: Track) => (of as unknown as Record<string, number>)[name]!,
    corner = (name: string, of: Track) => Math.max((side(name, of) / 2) * space.zoom, 17 + 13 * boxes.indexOf(name));
  const resized = (name: string) => (sx: number, sy: number) => {
    // What was saved last is what the drag began with.
    const begun = useShot.getState().shot?.tracks[track.id] ?? track,
      to = side(name, begun) + (2 * (Math.max(Math.abs(sx - x), Math.abs(sy - y)) - corner(name, begun))) / space.zoom;
    return setTrackValues(track.id, { [name]: to });
  };
  return (
    <Group>
      {selected && all.length > 1 && (
        <Outlined points={all.filter((s) => s.x !== null).flatMap((s) => onScreen([s.x!, s.y!]))} colour={colours.mount} width={1} />
      )}
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
      <Label x={x + 10} y={y - 16} text={`${track.name}${bad ? ` ${state}` : ''}`} colour={bad ? '#ffb3a3' : colours.light} />
    </Group>
  );
}
