// Compiles the kernels and writes them as a base64 module, so that browser, Node and tests load the very same bytes in one way.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const here = join(dirname(fileURLToPath(import.meta.url)), '..');
const wasm = join(here, 'dist', 'kernels.wasm');
mkdirSync(dirname(wasm), { recursive: true });
const { error, stderr } = await asc.main([
  join(here, 'assembly', 'index.ts'),
  '--outFile',
  wasm,
  '--runtime',
  'stub',
  '--importMemory',
  '--sharedMemory',
  '--initialMemory',
  '1',
  '--maximumMemory',
  '32768',
  '--enable',
  'simd',
  '--enable',
  'threads',
  '--enable',
  'bulk-memory',
  '-O3',
  '--noAssert',
  '--converge',
]);
if (error) {
  console.error(`kernels: ${error.message}\n${stderr.toString()}`);
  process.exit(1);
}
const text = `// Made by scripts/build.mjs; do not edit.\nexport const kernelBytes = '${readFileSync(wasm).toString('base64')}';\n`;
writeFileSync(join(here, 'src', 'kernelBytes.ts'), text);
