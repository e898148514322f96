/** Writes docs/effects.md from the effects' own descriptions: `npm run docs:effects`. A test holds the two together. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { effectsDocument } from './effectsDocument';

writeFileSync(join(process.cwd(), 'docs', 'effects.md'), effectsDocument());
