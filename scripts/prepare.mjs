// After every install: compiles the kernels, so that the command line and the tests work at once.
import { existsSync } from 'node:fs';
if (existsSync(new URL('../node_modules/assemblyscript', import.meta.url))) await import('../packages/kernels/scripts/build.mjs');
