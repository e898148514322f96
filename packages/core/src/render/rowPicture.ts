import type { Layers } from '../effects';
import type { Arena } from '../image/arena';
import { blendOver, layLight } from '../image/blend';
import type { Picture } from '../image/picture';
import { drawnRows, rowValues } from '../shot/drawn';
import type { Shot } from '../shot/schema';
import { baseStep } from './base';
import { combine } from './combine';
import { layersStep } from './effectSteps';
import type { Step } from './evaluate';
import { sizeOf, type Factor } from './factor';
import { framesOf } from './frames';
import { clearStep } from './plateSteps';
import type { Chains, Scene } from './scene';
import type { Sources, Tracks } from './sources';

/** All that steps of a frame are made from. */
export function sceneAt(shot: Shot, tracks: Tracks, sources: Sources, frame: number, factor: Factor, chains: Chains | null = null): Scene {
  const scene: Scene = {
    ...{ shot, drawn: drawnRows(shot), frame, factor, sources, mounts: framesOf(shot, tracks), chains },
    rowPicture: (row, at, size) => rowPicture({ ...scene, frame: at, factor: size }, row),
  };
  return scene;
}

/** What a row draws at the scene's frame, over nothing: premultiplied, with its light; an empty picture outside of its range. It is asked for by mattes, also while it is muted. */
function rowPicture(scene: Scene, id: string): Step<Picture> {
  const { frame, factor } = scene,
    shown = scene.drawn.of(id).filter((row) => {
      const e = row.effect;
      if (!e || frame < row.first || frame > row.last) return false;
      return !e.idle?.(rowValues(row, frame, 1), frame - row.first, (inRow) => rowValues(row, row.first + inRow, 1));
    }),
    empty = clearStep(sizeOf(scene.shot, factor));
  if (!shown.length) return empty;
  const plain = baseStep(scene, frame, factor);
  return combine(
    'picture of a row',
    [empty, ...shown.map((row) => layersStep(scene, row, plain))],
    ([ground, ...all]: [Picture, ...Layers[]], arena: Arena) => {
      let now = ground;
      const put = (next: Picture) => {
        if (now !== ground) arena.give(now);
        now = next;
      };
      for (const { behind, layer, front, light } of all) {
        for (const one of [behind, layer, front]) if (one) put(blendOver(one, now, 'normal', 1, arena));
        if (light) put(layLight(light, now, 'add', 1, arena));
      }
      return now;
    },
  ) as Step<Picture>;
}
