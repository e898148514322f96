// After every install: compiles the kernels and bundles the command line, so that `wraith` and the tests work at once.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(fileURLToPath(import.meta.url), '..', '..');
if (existsSync(join(root, 'node_modules', 'assemblyscript')) && existsSync(join(root, 'node_modules', 'esbuild'))) {
  await import('../packages/kernels/scripts/build.mjs');
  const { bundle } = await import('./bundle.mjs');
  await bundle({ main: join(root, 'packages/cli/src/main.ts') }, join(root, 'dist', 'cli'));
  // The pages' own worker that finds faces and persons, for the browser that the command line starts for it.
  const { build } = await import('esbuild'),
    worker = join(root, 'packages/web/src/workers/finders.worker.ts');
  await build({ entryPoints: { finders: worker }, outdir: join(root, 'dist', 'cli'), bundle: true, format: 'iife', logLevel: 'error' });
}
