// One way to make a Node program of our TypeScript: workspace code inside, packages from the registry outside.
import { build } from 'esbuild';
import { readFileSync } from 'node:fs';

const manifest = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8'));
const external = [...Object.keys(manifest.dependencies ?? {}), ...Object.keys(manifest.devDependencies ?? {})].flatMap((name) => [
  name,
  `${name}/*`,
]);

/** @param {Record<string, string>} entryPoints output name to source file @param {string} outdir */
export async function bundle(entryPoints, outdir) {
  await build({
    entryPoints,
    outdir,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    external,
    sourcemap: 'inline',
    outExtension: { '.js': '.mjs' },
    logLevel: 'error',
    banner: { js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);" },
  });
}
