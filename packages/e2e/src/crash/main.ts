/**
 * The crash test: `npm run crash -- --rounds 300 --seed 1`, and `npm run crash -- --starts 200` for first starts that are cut off.
 * docs/reliability.md has what they promise and their figures.
 */
import { parseArgs } from 'node:util';
import { crash, random } from './crash';
import { cutStarts } from './starts';

const { values } = parseArgs({
    options: { rounds: { type: 'string', default: '20' }, seed: { type: 'string', default: '1' }, starts: { type: 'string' } },
  }),
  say = (line: string) => void process.stderr.write(`${line}\n`),
  seed = Number(values.seed);
if (values.starts) {
  const wrong = await cutStarts(Number(values.starts), random(seed), say);
  console.log(JSON.stringify({ starts: Number(values.starts), wrong }, null, 1));
  process.exit(wrong.length ? 1 : 0);
}
const report = await crash(Number(values.rounds), seed, say);
console.log(JSON.stringify(report, null, 1));
process.exit(report.wrong.length ? 1 : 0);
