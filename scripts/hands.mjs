// Runs the stories whose hand actions are counted and writes the table into docs/hands.md.
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const folder = join('dist', 'tests', 'hands');
rmSync(folder, { recursive: true, force: true });
const run = (...args) => {
  const { status } = spawnSync(process.execPath, args, { stdio: ['ignore', 'inherit', 'inherit'] });
  if (status) process.exit(status);
};
run('scripts/build.mjs');
run(
  '--experimental-vm-modules',
  '--no-warnings',
  'node_modules/jest/bin/jest.js',
  '--selectProjects',
  'e2e',
  '--runInBand',
  '--forceExit',
  '--testPathPatterns',
  'stories',
  '-t',
  'by hand',
);
const columns = ['clicks', 'drags', 'values', 'jumps', 'keys'];
const counts = readdirSync(folder)
  .sort()
  .map((file) => JSON.parse(readFileSync(join(folder, file), 'utf8')));
const lines = [
  `| Film | ${columns.join(' | ')} | together |`,
  `|---|${columns.map(() => '--:').join('|')}|--:|`,
  ...counts.map(
    (c) => `| ${c.film} | ${columns.map((name) => c[name]).join(' | ')} | ${columns.reduce((sum, name) => sum + c[name], 0)} |`,
  ),
];
writeFileSync(
  join('docs', 'hands.md'),
  `# Hand actions

How many actions of a hand a film takes through the interface, from an empty shot to the finished effects. Fewer for the same film is better.
A click counts as one, so does a drag, a value that is typed or chosen, a jump to a frame, and a key. \`npm run hands\` makes the films in Chromium, counts, and writes this table.

${lines.join('\n')}
`,
);
console.log(lines.join('\n'));
