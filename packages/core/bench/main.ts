import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { measure, type Row } from './measure';
import { works } from './works';

const { values } = parseArgs({ options: { json: { type: 'boolean' }, only: { type: 'string' } } });
if (values.only !== undefined && !works[values.only]) {
  console.error(`bench: there is no row "${values.only}" yet; there are ${Object.keys(works).join(', ')}.`);
  process.exit(2);
}
const machine = `${availableParallelism()} cores, Node ${process.versions.node.split('.')[0]}`,
  rows: Row[] = [];
for (const name of values.only ? [values.only] : Object.keys(works)) {
  const row = await measure(await works[name]!());
  rows.push(row);
  if (!values.json)
    console.log(
      `${row.work.padEnd(16)} ${`${row.width}x${row.height}`.padEnd(10)} ${row.ms.toFixed(3).padStart(10)} ms   ${row.peer.padEnd(28)} ${row.peerMs.toFixed(3).padStart(10)} ms   ratio ${row.ratio.toFixed(2)}`,
    );
}
console.log(values.json ? JSON.stringify({ machine, rows }) : `medians of three rounds, ${machine}`);
process.exit(0);
