// One way to make a Node program of our TypeScript: workspace code inside, packages from the registry outside.
import { build } from 'esbuild';
import { readdirSync, readFileSync } from 'node:fs';

const packages = new URL('../packages/', import.meta.url),
  manifests = [
    new URL('../package.json', import.meta.url),
    ...readdirSync(packages).map((name) => new URL(`${name}/package.json`, packages)),
  ].map((file) => JSON.parse(readFileSync(file, 'utf8'))),
  names = new Set(manifests.flatMap((m) => [...Object.keys(m.dependencies ?? {}), ...Object.keys(m.devDependencies ?? {})]));
/** Packages of the registry, whichever workspace declares them. */
const external = [...names].filter((name) => !name.startsWith('@wraithos/')).flatMap((name) => [name, `${name}/*`]);

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
