// Compiles TypeScript for Jest. In Jest's sandbox every use of a global such as Math is a slow look-up through an interceptor
// (measured: pixel loops 30 times slower); taking the ones that loops use into module constants restores full speed.
import swc from '@swc/core';

const globals = ['Math', 'Float32Array', 'Float64Array', 'Int32Array', 'Uint8Array', 'Uint16Array', 'Uint32Array'];
const prefix = globals.map((name) => `const ${name} = globalThis.${name};`).join(' ');

export default {
  process(source, file) {
    const { code, map } = swc.transformSync(source, {
      filename: file,
      sourceMaps: true,
      module: { type: 'es6' },
      jsc: { parser: { syntax: 'typescript', tsx: file.endsWith('x') }, target: 'es2022', transform: { react: { runtime: 'automatic' } } },
    });
    return { code: `${prefix} ${code}`, map };
  },
};
