// The command line. It is bundled by `prepare`; made here if that is missing.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const built = join(fileURLToPath(import.meta.url), '..', '..', 'dist', 'cli', 'main.mjs');
if (!existsSync(built)) await import('./prepare.mjs');
await import(pathToFileURL(built));
