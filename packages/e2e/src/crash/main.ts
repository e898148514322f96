/** The crash test: `npm run crash -- --rounds 300 --seed 1`. docs/reliability.md has what it promises and its figures. */
import { parseArgs } from 'node:util';
import { crash } from './crash';

const { values } = parseArgs({ options: { rounds: { type: 'string', default: '20' }, seed: { type: 'string', default: '1' } } }),
  report = await crash(Number(values.rounds), Number(values.seed), (line) => process.stderr.write(`${line}\n`));
console.log(JSON.stringify(report, null, 1));
process.exit(report.wrong.length ? 1 : 0);
