// Builds everything that runs: kernels, command line, server and its worker, pages. Skips what is newer than all sources.
import { existsSync, readdirSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(fileURLToPath(import.meta.url), '..', '..'),
  stamp = join(root, 'dist', '.built');

function newest(folder) {
  let time = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', 'dist', 'media'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    time = Math.max(time, entry.isDirectory() ? newest(path) : entry.name === 'kernelBytes.ts' ? 0 : statSync(path).mtimeMs);
  }
  return time;
}

const sources = Math.max(newest(join(root, 'packages')), statSync(join(root, 'package-lock.json')).mtimeMs);
if (!process.argv.includes('--force') && existsSync(stamp) && statSync(stamp).mtimeMs >= sources) {
  console.log('built already');
} else {
  await import('./prepare.mjs');
  const { bundle } = await import('./bundle.mjs');
  await bundle(
    { main: join(root, 'packages/server/src/main.ts'), work: join(root, 'packages/server/src/jobs/work.ts') },
    join(root, 'dist', 'server'),
  );
  const { build } = await import('vite');
  await build({ root: join(root, 'packages/web'), configFile: join(root, 'packages/web/vite.config.ts'), logLevel: 'warn' });
  if (!existsSync(stamp)) writeFileSync(stamp, '');
  utimesSync(stamp, new Date(), new Date(Math.max(Date.now(), sources)));
  console.log('built');
}
