// npm run bench: times kernels and whole frames against their peers, in one run. Options go after `--`: --json, --only NAME, --recipes (a row for every recipe instead).
import { installModules } from './setup.mjs';

installModules();
await import('../packages/kernels/scripts/build.mjs');
process.argv.splice(2, 0, 'packages/core/bench/main.ts');
await import('./run.mjs');
