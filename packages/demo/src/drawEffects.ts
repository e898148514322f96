/**
 * Draws each effect as it comes, at dusk on TW_010 and in daylight in the chart room of TW_050, for docs/effects.md: `npm run docs:pictures [-- TYPE …] [-- --recipes --out DIR]`. With
 * --recipes every recipe is drawn instead, to look at.
 */
import { mkdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { effects, type Lane } from '@wraithos/core/effects';
import { encodeCodes } from '@wraithos/core/image';
import { ownRecipes, ownRecipesFor, rowFromRecipe, suggestedValues } from '@wraithos/core/recipes';
import { FrameRenderer } from '@wraithos/core/render';
import { addRow, addTrack, applyEdit, clipOf, readShot, type Shot } from '@wraithos/core/shot';
import { bandThreads, computingThreads, fileSources, probe } from '@wraithos/runtime';

/** Frames of TW_010: the lantern is up. What happens at a moment has begun some frames before. */
const BEGINS = 1064,
  USUAL = 1080;
/** Tracks of TW_010 that effects are shown on. */
const trackFor = (type: string): string => (effects[type]!.shown?.on === 'lantern' ? 't2' : 't1');

const media = join(process.cwd(), 'packages', 'demo', 'media'),
  path = join(media, 'TW_010', 'finished.json');

/** TW_010 finished without its rows. */
function bare(): Shot {
  const shot = readShot(JSON.parse(readFileSync(path, 'utf8')));
  return { ...shot, rows: {} };
}
const laneOf = (type: string): Lane => effects[type]!.lanes[0]!;
const mountOn = (shot: Shot, track: string): string | null => Object.values(shot.mounts).find((m) => m.track === track)?.id ?? null;

/** TW_050 finished without its rows, with places that are set by hand on the lantern and the chest, as they are at the frame that is drawn. */
const dayPath = join(media, 'TW_050', 'finished.json'),
  DAY = 1060;
function bareDay(): Shot {
  const shot = readShot(JSON.parse(readFileSync(dayPath, 'utf8'))),
    hand = (id: string, name: string, at: [number, number]) =>
      addTrack({ id, name, kind: 'hand', clip: Object.keys(shot.clips)[0]!, at, frame: 0 });
  return [hand('t1', 'Chest', [676, 330]), hand('t2', 'Lantern', [622, 470])].reduce((s, made) => applyEdit(s, made).shot, {
    ...shot,
    rows: {},
  });
}

async function withEffect(type: string, shot: Shot, begins: number): Promise<Shot> {
  const track = trackFor(type),
    lane = laneOf(type),
    own = lane === 'on' || lane === 'front' || lane === 'behind';
  const { values, curves, start, length } = suggestedValues(type, shot, track, begins);
  const made = addRow({
    id: 'r1',
    effect: type,
    lane,
    subject: own ? Object.keys(shot.subjects)[0]! : null,
    track,
    values: { ...values, ...effects[type]!.shown?.values },
    curves,
    start,
    length,
  });
  const drawn = applyEdit(shot, made).shot,
    shows = effects[type]!.shown?.clip;
  if (!shows) return drawn;
  const folder = join(media, 'stockroom', shows),
    clip = clipOf({
      ...{ id: 'c90', file: shows, role: 'element', media: { path: relative(dirname(path), folder) } },
      ...{ facts: await probe(folder), start: drawn.first },
    });
  return { ...drawn, clips: { ...drawn.clips, c90: clip }, rows: { r1: { ...drawn.rows.r1!, clip: 'c90' } } };
}

const given = process.argv.slice(2),
  option = (name: string) => (given.includes(name) ? given[given.indexOf(name) + 1] : undefined),
  recipes = given.includes('--recipes'),
  out = option('--out') ?? join(process.cwd(), 'docs', 'effects'),
  wanted = given.filter((word, i) => !word.startsWith('--') && given[i - 1] !== '--out'),
  helpers = bandThreads(computingThreads() - 1);

async function picture(renderer: FrameRenderer, shot: Shot, frame: number): Promise<Sharp> {
  const rgb = await renderer.renderFrame({ shot, frame }, (p, _, pictures) => encodeCodes(p, { bits: 8, channels: 3, frame }, pictures));
  return sharp(Buffer.from(rgb as Uint8Array), { raw: { width: shot.width, height: shot.height, channels: 3 } });
}

mkdirSync(out, { recursive: true });
try {
  const byDay = new FrameRenderer(fileSources(dayPath), { width: 1280, height: 720 }, 400 * 2 ** 20, undefined, true),
    renderer = new FrameRenderer(fileSources(path), { width: 1280, height: 720 }, 400 * 2 ** 20, undefined, true, helpers);
  for (const type of Object.keys(effects)) {
    if (wanted.length && !wanted.includes(type)) continue;
    const frame = effects[type]!.shown?.frame ?? USUAL,
      begins = effects[type]!.shown?.begins ?? BEGINS;
    if (!recipes) {
      const half = async (from: FrameRenderer, shot: Shot, at: number) =>
          (await picture(from, shot, at)).resize(480, 270, { kernel: 'lanczos3' }).png().toBuffer(),
        dusk = await half(renderer, await withEffect(type, bare(), begins), frame),
        // As long after its beginning as at dusk.
        dayBegins = Math.max(1001, DAY - (frame - begins)),
        // What takes the whole picture along with its mount shows nothing there: no camera moves.
        still = Object.values(effects[type]!.inputs).some((input) => input.kind === 'mount' && !input.optional),
        day = still ? null : await half(byDay, await withEffect(type, bareDay(), dayBegins), DAY);
      await sharp({ create: { width: day ? 964 : 480, height: 270, channels: 3, background: '#000000' } })
        .composite([{ input: dusk, left: 0, top: 0 }, ...(day ? [{ input: day, left: 484, top: 0 }] : [])])
        .jpeg({ quality: 82 })
        .toFile(join(out, `${type}.jpg`));
      console.error(type);
      continue;
    }
    for (const recipe of ownRecipesFor(type)) {
      const shot = bare(),
        row = rowFromRecipe(shot, recipe, { id: 'r1', subject: 's1', mount: mountOn(shot, trackFor(type)), frame: begins }),
        aimed = { ...row, aim: mountOn(shot, 't2'), mount: 'aim' in effects[type]!.inputs ? mountOn(shot, 't1') : row.mount };
      await (
        await picture(renderer, { ...shot, rows: { r1: aimed } }, frame)
      )
        .jpeg({ quality: 90 })
        .toFile(join(out, `${type}-${ownRecipes.indexOf(recipe)}.jpg`));
    }
    console.error(type);
  }
} finally {
  await helpers.close();
}
