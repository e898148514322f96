import { pictureFrame, type Point } from '@wraithos/core/motion';
import { storedAt, valuesAt, type Params, type StoredValue } from '@wraithos/core/params';
import { asPlaced, clipParams, outlineOf, subjectParams, type Outline, type PlaceValues, type SubjectValues } from '@wraithos/core/placing';
import { clipStart, type Edit, type PlacedEntry, type PlacedThing } from '@wraithos/core/shot';
import { placedTarget } from '../settings/PlacedFields';
import { useDocument, useParts } from '../state/shotStore';
import { PlacedHandles, sizesIn } from './PlacedHandles';
import { toPicture, toScreen, type Space } from './space';

const round = (n: number) => Math.round(n * 10) / 10;

/** Handles of something that is placed about the middle of the picture. */
function Placed({
  space,
  of,
  placed,
  params,
  from,
  outline,
  move,
}: {
  space: Space;
  of: PlacedThing;
  placed: PlacedEntry;
  params: Params;
  from: number;
  outline: Outline | null;
  /** The parameter that a new place of the pivot sets, and to what. */
  move(p: Point): [string, [number, number]];
}) {
  const shot = useDocument(),
    { frame } = useParts('frame'),
    body = pictureFrame('middle', shot.width, shot.height),
    target = placedTarget(of, placed, params, frame, from),
    put = (name: string, to: number): Edit => (placed.curves[name] ? target.curves!.set(name, to) : target.put(name, to));
  if (!outline) return null;
  return (
    <PlacedHandles
      outline={outline}
      onScreen={(p) => toScreen(space, ...body.toPicture(p))}
      onBody={(x, y) => body.toBody(toPicture(space, x, y))}
      value={(name) => storedAt(name, placed.values[name] ?? (params[name]!.default as StoredValue), placed.curves, frame - from) as number}
      put={put}
      putPlace={(p) => {
        const [name, [x, y]] = move(p);
        return target.curves!.setPoint(name, [round(x), round(y)]);
      }}
    />
  );
}

/** Where the selected clip stands in the picture, with handles. A clean plate stands where the performance does. */
export function ClipOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    { frame, selection } = useParts('frame', 'selection'),
    clip = selection?.kind === 'clip' ? shot.clips[selection.id] : undefined;
  if (!clip || clip.role === 'clean') return null;
  const v = valuesAt(clipParams, clip.placed.values, clip.placed.curves, frame - clipStart(shot, clip), 1) as unknown as PlaceValues;
  return (
    <Placed
      space={space}
      of={{ kind: 'clip', id: clip.id }}
      placed={clip.placed}
      params={clipParams}
      from={clipStart(shot, clip)}
      outline={outlineOf(v, sizesIn(shot, clip))}
      move={(p) => ['place', [p[0], p[1]]]}
    />
  );
}

/** How broad a figure is drawn against its height: its outline is a hint to hold on to. */
const BREADTH = 0.5;

/** Where the selected detached subject stands, with handles: a box as tall as it is, on its pivot. */
export function SubjectOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    { frame, selection } = useParts('frame', 'selection'),
    subject = selection?.kind === 'subject' ? shot.subjects[selection.id] : undefined;
  if (!subject?.detached) return null;
  const { placed, pixels } = subject,
    v = valuesAt(subjectParams, placed.values, placed.curves, frame - shot.first, 1) as unknown as SubjectValues,
    box = { width: BREADTH * pixels, height: pixels };
  return (
    <Placed
      space={space}
      of={{ kind: 'subject', id: subject.id }}
      placed={placed}
      params={subjectParams}
      from={shot.first}
      outline={outlineOf({ ...asPlaced(v), pivot: [0, pixels / 2] }, { ...sizesIn(shot, box) })}
      move={(p) => ['shift', [p[0] - v.pivot[0], p[1] - v.pivot[1]]]}
    />
  );
}
