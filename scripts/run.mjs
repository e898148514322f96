// Runs one TypeScript program of the repository: node scripts/run.mjs packages/x/y.ts [arguments]
import { basename, join, resolve } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { bundle } from './bundle.mjs';

const root = join(fileURLToPath(import.meta.url), '..', '..');
const [entry, ...rest] = process.argv.slice(2);
const name = basename(entry, '.ts'),
  out = join(root, 'dist', 'run', name);
await bundle({ [name]: resolve(root, entry) }, out);
process.argv = [process.argv[0], join(out, `${name}.mjs`), ...rest];
await import(pathToFileURL(join(out, `${name}.mjs`)));
