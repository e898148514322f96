import { useEffect, useRef } from 'react';
import { Group, Line } from 'react-konva';
import { flatten, shapeAt, sureAt, type Vertex } from '@wraithos/core/matte';
import { framesOf, outlineAt, storedPlaces } from '@wraithos/core/render';
import { addVertex, appearanceOf, clipFrame, matteClip, onClip, onPicture, setShape, type Matte, type Outline } from '@wraithos/core/shot';
import { useDocument, useParts } from '../state/shotStore';
import { choosePoint, useOutlinePoints } from '../state/outlinePoints';
import { useTracks } from '../workbench/tracks';
import { colours, Outlined } from './marks';
import { nearestOn, type Point } from './outlineGeometry';
import { OutlineHandles } from './OutlineHandles';
import type { OutlineInHand } from './outlineInHand';
import { toPicture, toScreen, type Space } from './space';

/** Outlines of the selected matte, with handles for the selected one. */
export function OutlineOverlay({ space }: { space: Space }) {
  const shot = useDocument(),
    { selection, outline, tool, set } = useParts('selection', 'outline', 'tool', 'set'),
    matte: Matte | undefined = selection?.kind === 'matte' ? shot.mattes[selection.id] : undefined;
  // Points are those of one outline.
  useEffect(() => useOutlinePoints.setState({ points: [] }), [outline]);
  return (
    // While a tool is in hand, presses are its own: a new outline may begin on an old one.
    <Group listening={tool === null}>
      {matte?.outlines.map((o) => (
        <One key={o.id} matte={matte} outline={o} space={space} selected={o.id === outline} onSelect={() => set({ outline: o.id })} />
      ))}
    </Group>
  );
}

const flat = (vertices: readonly Vertex[], screen: (p: Point) => Point): number[] => {
  const line = flatten(vertices, 1),
    out: number[] = [];
  for (let i = 0; i < line.length; i += 2) out.push(...screen([line[i]!, line[i + 1]!]));
  return out;
};

function One({
  matte,
  outline,
  space,
  selected,
  onSelect,
}: {
  matte: Matte;
  outline: Outline;
  space: Space;
  selected: boolean;
  onSelect(): void;
}) {
  const shot = useDocument(),
    tracks = useTracks(),
    { frame, edit, preview } = useParts('frame', 'edit', 'preview'),
    { sets } = useOutlinePoints(),
    mounts = framesOf(shot, tracks),
    // What is drawn on a clip is in its pixels, at its frames.
    clip = matteClip(shot, matte),
    look = clip ? appearanceOf(shot, clip, frame) : null,
    at = clip ? clipFrame(shot, clip, frame) : frame,
    onScreen = ([x, y]: Point): [number, number] => toScreen(space, ...(look ? onPicture(look, [x, y]) : ([x, y] as const))),
    { store, place } = storedPlaces(outline, at, mounts),
    standing = outlineAt(outline, at, mounts),
    vertices = shapeAt(outline.keys, at),
    hand: OutlineInHand = {
      vertices,
      standing,
      sure: sureAt(outline.keys, at),
      screen: (p) => onScreen(place(p)),
      stored(x, y) {
        const p = toPicture(space, x, y);
        return store(look ? onClip(look, p) : p);
      },
      put: (next, moved) => setShape(matte.id, outline.id, at, next, sets === 'only moved points' ? new Set(moved) : null),
    },
    screen = flat(vertices, hand.screen),
    // The keys before and after, as they stand against it: what the outline comes from and goes to.
    before = outline.keys.findLast((k) => k.frame < at),
    after = outline.keys.find((k) => k.frame > at),
    begun = useRef<Vertex[] | null>(null),
    /** All of it by as much as the pointer went; each vertex on the screen, so that what is slanted is dragged right too. */
    shifted = (dx: number, dy: number) => {
      const from = (begun.current ??= vertices);
      const go = (p: Point): Point => {
        const [sx, sy] = hand.screen(p);
        return hand.stored(sx + dx, sy + dy);
      };
      return hand.put(
        from.map((v) => {
          const [x, y] = go([v.x, v.y]);
          return { ...v, x, y };
        }),
        vertices.map((_, i) => i),
      );
    };
  const dash = { 'take away': [7, 4], 'keep inside': [2, 3], exclude: [7, 3, 2, 3], add: undefined }[outline.mode];
  return (
    <>
      {selected &&
        [before, after].map(
          (k, side) =>
            k && (
              <Line
                key={side}
                points={flat(shapeAt(outline.keys, k.frame), hand.screen)}
                closed
                listening={false}
                stroke={side ? colours.mount : colours.light}
                strokeWidth={1}
                opacity={0.4}
              />
            ),
        )}
      <Outlined points={screen} closed colour={colours.matte} dash={dash} width={outline.muted ? 0.6 : undefined} />
      <Line
        name={`outline-${outline.id}`}
        points={screen}
        closed
        stroke="transparent"
        hitStrokeWidth={10}
        fillEnabled={false}
        draggable={selected}
        onClick={(e) => {
          e.cancelBubble = true;
          onSelect();
          useOutlinePoints.setState({ points: [] });
        }}
        onDblClick={(e) => {
          e.cancelBubble = true;
          if (!selected) return;
          const { after: i, share } = nearestOn(vertices, hand.stored(e.evt.offsetX, e.evt.offsetY));
          edit(addVertex(matte.id, outline.id, i, share));
          choosePoint(i + 1, false);
        }}
        onDragMove={(e) => preview(shifted(e.target.x(), e.target.y()))}
        onDragEnd={(e) => {
          const [dx, dy] = [e.target.x(), e.target.y()];
          e.target.position({ x: 0, y: 0 });
          const change = shifted(dx, dy);
          begun.current = null;
          edit(change);
        }}
        onMouseEnter={(e) => {
          if (selected) e.target.getStage()!.container().style.cursor = 'move';
        }}
        onMouseLeave={(e) => {
          e.target.getStage()!.container().style.cursor = '';
        }}
      />
      {selected && <OutlineHandles hand={hand} />}
    </>
  );
}
