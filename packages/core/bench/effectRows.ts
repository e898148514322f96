import { defaultsOf, effects, valuesAt, type Draw, type Effect, type Fact, type OwnRecipe } from '../src/effects';
import { Arena, decodeCodes, type Plane, type Raster } from '../src/image';
import { lightThings } from '../src/lighting';
import { AffineFrame } from '../src/motion';
import type { Work } from './measure';
import { HEIGHT, likeAPicture, WIDTH } from './scene';

/** A standing figure of the demo's size, with an arm held out: coverage. */
function figure(out: Plane, factor: number): Plane {
  for (let y = 0, p = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++, p++) {
      const px = (x + 0.5) * factor - 600,
        py = (y + 0.5) * factor - 210,
        body = py > 0 && py < 430 && Math.abs(px) < 40 + py * 0.09,
        arm = Math.abs(py - 60 - px * 0.25) < 16 && px > -170 && px < 0;
      out.data[p] = body || arm ? 1 : 0;
    }
  return out;
}

type Copies = () => Pick<Work, 'peer' | 'runPeer' | 'calls'>;
/** One frame of an effect with some values and defaults for the others: its past one frame on, where it has one, and its pictures. */
function rowOf(work: string, e: Effect, given: OwnRecipe['values'], copies: Copies): () => Work {
  return () => {
    const arena = new Arena(400 * 2 ** 20),
      plate = decodeCodes(likeAPicture(3), 'srgb', arena),
      smallPlate = arena.takePicture(Math.ceil(WIDTH / 4), Math.ceil(HEIGHT / 4)),
      matte = figure(arena.takePlane(WIDTH, HEIGHT), 1),
      smallMatte = figure(arena.takePlane(smallPlate.width, smallPlate.height), 4),
      pose = (x: number, y: number) => new AffineFrame(x, y);
    smallPlate.data.fill(0.3);
    const draw = (frameInRow: number, small = false): Draw<Fact> => ({
      pictures: arena,
      frame: 1001 + frameInRow,
      width: small ? smallPlate.width : WIDTH,
      height: small ? smallPlate.height : HEIGHT,
      scale: small ? 0.25 : 1,
      framesPerSecond: 24,
      frameInRow,
      rowLength: 96,
      subjectPixels: 430,
      subjectMetres: 1.76,
      traces: true,
      strokes: [],
      cues: [],
      lines: [],
      around: [],
    });
    const values = (frameInRow: number) =>
        valuesAt(
          e.params,
          { ...defaultsOf(e.params), ...given, ...('progress' in e.params ? { progress: 2 * frameInRow } : {}) },
          {},
          0,
          1,
        ) as never,
      read = (times: readonly number[]) =>
        Object.fromEntries(
          Object.entries(e.inputs).map(([name, { kind, size }]) => [
            name,
            {
              below: plate,
              plate: size === 'quarter' ? smallPlate : plate,
              clean: plate,
              matte: size === 'quarter' ? smallMatte : matte,
              pattern: size === 'quarter' ? smallMatte : matte,
              mount: pose(560, 300),
              aim: pose(900, 240),
              element: null,
              moment: plate,
              plates: times.map(() => plate),
              mattes: times.map(() => matte),
            }[kind],
          ]),
        ) as never;
    const kept = new Set<Raster>([plate, smallPlate, matte, smallMatte]);
    // A bolt is drawn anew at each third frame: this is one of those. A flash is over by then.
    const at = e.type === 'flash' ? 1 : 24;
    let state: unknown = e.history?.start();
    for (let f = 0; f <= at; f++) state = e.history?.step(state, values(f), values(f - 1), read([]), draw(f, true)) ?? state;
    const from = state;
    return {
      work,
      width: WIDTH,
      height: HEIGHT,
      ...copies(),
      run() {
        const now = e.history?.step(from, values(at + 1), values(at), read([]), draw(at + 1, true)) ?? from,
          layers = e.render(draw(at), values(at), read(e.times?.(values(at), 1001 + at, 1001, []) ?? []), now as never);
        for (const raster of Object.values(layers) as Raster[]) if (raster && !kept.has(raster)) arena.give(raster);
      },
    };
  };
}

/** A bright way across the picture lights a figure, the ground and the air, with a darker surround: what such a light costs beside its own picture. */
function lit(copies: Copies): Work {
  const arena = new Arena(400 * 2 ** 20),
    codes = likeAPicture(3),
    // The picture is lit in place: several in turn, so that none is lit so often that its values mean nothing.
    plates = Array.from({ length: 12 }, () => decodeCodes(codes, 'srgb', arena)),
    subject = figure(arena.takePlane(WIDTH, HEIGHT), 1),
    light = arena.takePicture(WIDTH, HEIGHT);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) light.data.fill(x < 560 ? Math.max(0, 1 - Math.abs(y - 300 - x / 9) / 30) : 0, i, i + 3);
  const thrower = { surround: 0.5, onSubject: 1, onGround: 0.6, inAir: 0, away: 40 };
  let turn = 0;
  return {
    work: 'light-on-things',
    width: WIDTH,
    height: HEIGHT,
    ...copies(),
    run: () => void lightThings(plates[turn++ % plates.length]!, light, thrower, { subject, tall: 430, scale: 1 }, arena, true),
  };
}

/** A row for every effect, and one for what a light does to its surroundings: memory copies of a frame at its defaults. */
export const effectRows = (copies: Copies): Record<string, () => Work> => ({
  ...Object.fromEntries(Object.entries(effects).map(([type, e]) => [`effect-${type}`, rowOf(`effect-${type}`, e, {}, copies)])),
  'light-on-things': () => lit(copies),
});
/** A row for every recipe of every effect, by the effect's kind and the recipe's name. */
export const recipeRows = (copies: Copies): Record<string, () => Work> =>
  Object.fromEntries(
    Object.entries(effects).flatMap(([type, e]) =>
      (e.recipes ?? []).map(({ name, values }) => [`${type}: ${name}`, rowOf(`${type}: ${name}`, e, values, copies)]),
    ),
  );
