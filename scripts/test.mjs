// npm test: installs what is missing, builds, then lint, types, and all tests; the last line counts them.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { installDebian, installModules, root } from './setup.mjs';

const begun = Date.now();
try {
  installDebian(['mariadb-server', 'ffmpeg', 'chromium']);
  installModules();
  await import('./build.mjs');
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
const out = join(root, 'dist', 'tests');
rmSync(out, { recursive: true, force: true });
mkdirSync(out, { recursive: true });
let passed = 0,
  failed = 0,
  skipped = 0;
// The build leaves its own mode in the environment, in which components cannot be tested.
const env = { ...process.env, CI: process.env.CI ?? '', NODE_ENV: 'test' };
const node = (args, what) => {
  const at = Date.now(),
    result = spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', env });
  console.log(`${what}: ${result.status === 0 ? 'ok' : 'failed'}, ${Math.round((Date.now() - at) / 1000)} s`);
  return result.status === 0;
};
const count = (ok) => (ok ? passed++ : failed++);
const bin = (name, file) => join(root, 'node_modules', name, file);

/** Runs a tool beside another one; what it says is shown whole when it is over. */
const beside = (args, what) =>
  new Promise((resolve) => {
    const at = Date.now(),
      tool = spawn(process.execPath, args, { cwd: root, env }),
      said = [];
    for (const stream of [tool.stdout, tool.stderr]) stream.on('data', (piece) => said.push(piece));
    tool.on('close', (code) => {
      process.stdout.write(Buffer.concat(said));
      console.log(`${what}: ${code === 0 ? 'ok' : 'failed'}, ${Math.round((Date.now() - at) / 1000)} s`);
      count(code === 0);
      resolve();
    });
  });
// Each of these takes one core: two at a time.
await Promise.all([
  beside([bin('eslint', 'bin/eslint.js'), '.'], 'lint').then(() =>
    beside([bin('dependency-cruiser', 'bin/dependency-cruise.mjs'), '--config', '.dependency-cruiser.cjs', 'packages'], 'dependencies'),
  ),
  beside([bin('typescript', 'bin/tsc'), '--noEmit', '-p', 'tsconfig.json'], 'types').then(() =>
    beside([bin('prettier', 'bin/prettier.cjs'), '--check', '--log-level', 'warn', '.'], 'format'),
  ),
]);
for (const project of ['unit', 'components', 'server', 'e2e']) {
  const file = join(out, `${project}.json`);
  const ok = node(
    [
      '--experimental-vm-modules',
      '--no-warnings',
      bin('jest', 'bin/jest.js'),
      '--selectProjects',
      project,
      '--json',
      '--outputFile',
      file,
      // What starts databases or a browser runs alone; the rest runs on all cores.
      ...(project === 'e2e' || project === 'server' ? ['--runInBand'] : ['--maxWorkers=100%']),
    ],
    project,
  );
  try {
    const report = JSON.parse(readFileSync(file, 'utf8'));
    passed += report.numPassedTests;
    failed += report.numFailedTests + report.numRuntimeErrorTestSuites;
    skipped += report.numPendingTests;
    if (!ok && report.numFailedTests + report.numRuntimeErrorTestSuites === 0) failed++;
  } catch {
    failed++;
  }
}
console.log(`took ${Math.round((Date.now() - begun) / 1000)} s`);
console.log(`${passed} passed, ${failed} failed${skipped ? `, ${skipped} skipped` : ''}`);
process.exit(failed ? 1 : 0);
