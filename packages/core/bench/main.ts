import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { measure, type Row } from './measure';
import { recipeWorks, works } from './works';

const { values } = parseArgs({ options: { json: { type: 'boolean' }, only: { type: 'string' }, recipes: { type: 'boolean' } } }),
  all = values.recipes ? recipeWorks : works;
if (values.only !== undefined && !all[values.only]) {
  console.error(`bench: there is no row "${values.only}" yet; there are ${Object.keys(all).join(', ')}.`);
  process.exit(2);
}
const machine = `${availableParallelism()} cores, Node ${process.versions.node.split('.')[0]}`,
  rows: Row[] = [];
for (const name of values.only ? [values.only] : Object.keys(all)) {
  const row = await measure(await all[name]!());
  rows.push(row);
  if (!values.json)
    console.log(
      `${row.work.padEnd(values.recipes ? 32 : 16)} ${`${row.width}x${row.height}`.padEnd(10)} ${row.ms.toFixed(3).padStart(10)} ms   ${row.peer.padEnd(28)} ${row.peerMs.toFixed(3).padStart(10)} ms   ratio ${row.ratio.toFixed(2)}`,
    );
}
console.log(values.json ? JSON.stringify({ machine, rows }) : `medians of three rounds, ${machine}`);
process.exit(0);
