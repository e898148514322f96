import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { refinements } from '../matte/refinements';
import { matteSources } from '../matte/sources';
import { carriageParams } from '../motion/carriage';
import { trackKinds } from '../motion/kinds';
import type { Params } from '../params';
import { effects } from './index';

/** Everything that is described by parameters, and so has labels and help of its own. */
const described: [string, { title: string; summary: string; params: Params }][] = [
  ...Object.entries(effects),
  ...Object.entries(matteSources),
  ...Object.entries(refinements),
  ...Object.entries(trackKinds),
  ['mount', { title: 'Mount', summary: 'Carries what hangs on a track.', params: carriageParams }],
];
/** The table of docs/words.md: each word, and those that are not used for it. */
const words = readFileSync(fileURLToPath(new URL('../../../../docs/words.md', import.meta.url)), 'utf8')
  .split('\n')
  .filter((line) => /^\| [a-z]/.test(line) && !line.startsWith('| word'))
  .map((line) => line.split('|').map((cell) => cell.trim()))
  .map(([, word, meaning, , not]) => ({
    word: word!,
    meaning: meaning!,
    not: not!
      .split(',')
      .map((w) => w.trim())
      .filter(Boolean),
  }));

test('the glossary says each word once, with a meaning, and no word is both used and not used', () => {
  expect(words.length).toBeGreaterThan(30);
  expect(new Set(words.map((w) => w.word)).size).toBe(words.length);
  for (const { word, meaning } of words) expect([word, meaning.length > 8]).toEqual([word, true]);
  const used = new Set(words.map((w) => w.word));
  // "medium", "track" and "layer" mean something else elsewhere.
  expect(words.flatMap((w) => w.not).filter((n) => used.has(n) && !['medium', 'track'].includes(n))).toEqual([]);
});

test.each(described)('%s: no label or help uses a word that the glossary has another one for', (_, { title, summary, params }) => {
  const texts = [title, summary, ...Object.values(params).flatMap((p) => [p.title, p.help ?? ''])].map((t) => ` ${t.toLowerCase()} `);
  // Words of ordinary English that only mean the forbidden thing in other places.
  const plain = new Set(['copy', 'only', 'middle', 'layer', 'track', 'window', 'actor', 'instance', 'folder', 'varies', 'target']);
  for (const { not } of words)
    for (const word of not)
      if (!plain.has(word))
        for (const text of texts) expect([word, new RegExp(`\\b${word}\\b`).test(text), text]).toEqual([word, false, text]);
});

test.each(described)('%s: every number says its unit, every label is one of its own, and help is a sentence', (_, { params }) => {
  const titles = Object.values(params).map((p) => p.title);
  expect(new Set(titles).size).toBe(titles.length);
  for (const [name, p] of Object.entries(params)) {
    if (['number', 'length', 'share', 'angle', 'point'].includes(p.kind))
      expect([name, !!p.unit || /exponent/i.test(p.help ?? '')]).toEqual([name, true]);
    if (p.kind === 'length' || p.kind === 'point') expect([name, /\b(px|pixels)\b/.test(p.help ?? '')]).toEqual([name, true]);
    if (!p.help) continue;
    expect([name, /^[A-Z0-9].*\.$/.test(p.help)]).toEqual([name, true]);
    // No riddles: no noun is left out, and nobody is "she".
    expect([name, /^(What|How|Whether|Of|About|From|At) /.test(p.help) || /\b(she|her)\b/i.test(p.help)]).toEqual([name, false]);
  }
});

/** Parameters of one name mean one thing, whichever effect has them, unless they say here why they do not. */
const differ: Record<string, string> = {
  from: 'where a front starts, where particles are born, and where a glow comes from are three things',
  direction: 'a front has its own direction beside that of flakes and wind',
  raggedSize: 'bites of a front, tongues of an aura',
  size: 'a materialise has more than one size; a ripple has a wavelength',
  orbit: 'motes start at a distance, particles circle',
  place: 'the place of a beam is its end',
  reach: 'an emitter is born inside a radius; a flare has several radii',
  other: 'a second shape, a second colour',
  streak: 'the shape of an ember, the length of a line, a number of frames',
  tint: 'a colour, an amount, and a balance',
  core: 'a width, a colour',
  soft: 'a beam has more than one edge',
  halo: 'a beam has a width, strokes a radius',
  every: 'bolts are redrawn, images are spaced',
  edge: 'the look of an aura, the edge of the picture',
  rise: 'a speed, a time',
  near: 'near the body, near in time',
  far: 'far from the body, far in time',
  gate: 'an ember, and the source of a flare',
  turn: 'of what is drawn, and of a mount against its track',
  fade: 'of images with age, and of what is carried while its track is lost',
  lost: 'an ember goes out, a mount goes somewhere',
  light: 'of an effect, and of a backing',
  to: 'the end of an effect, and the side of a feather',
  width: 'of a line or beam, and of a ramp',
  radius: 'of a light, and of each refinement by its own name',
  by: 'a pattern, and an amount by which a matte grows',
  area: 'of specks and of holes',
  gain: 'of images beside the strength, of a picture',
};
test('one name, one title', () => {
  const titles = new Map<string, Set<string>>();
  for (const [, { params }] of described)
    for (const [name, p] of Object.entries(params)) titles.set(name, (titles.get(name) ?? new Set()).add(p.title));
  expect([...titles].filter(([name, all]) => all.size > 1 && !differ[name]).map(([name, all]) => [name, ...all])).toEqual([]);
});
