// Dependencies point one way only. Inside core, each folder may use the ones listed before it; outside, see the package rules.
const layers = [
  'image',
  'words',
  'time',
  'params',
  'motion',
  'placing',
  'plate',
  'matte',
  'particles',
  'lighting',
  'effects',
  'shot',
  'recipes',
  'render',
];
const inside = layers
  .map((layer, i) => ({
    name: `core-${layer}-one-way`,
    severity: 'error',
    from: { path: `^packages/core/src/${layer}/` },
    to: { path: layers.slice(i + 1).map((l) => `^packages/core/src/${l}/`) },
  }))
  .filter((rule) => rule.to.path.length);
const packageRule = (name, allowed) => ({
  name: `${name}-one-way`,
  severity: 'error',
  from: { path: `^packages/${name}/src`, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^packages/', pathNot: [name, ...allowed].map((p) => `^packages/${p}/`) },
});
module.exports = {
  forbidden: [
    ...inside,
    packageRule('kernels', []),
    packageRule('core', ['kernels']),
    packageRule('runtime', ['core']),
    packageRule('contract', ['core']),
    packageRule('server', ['contract', 'core', 'runtime', 'demo']),
    packageRule('cli', ['contract', 'core', 'runtime']),
    packageRule('web', ['contract', 'core']),
    packageRule('demo', ['core', 'runtime']),
    {
      name: 'core-no-node',
      severity: 'error',
      from: { path: '^packages/core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    {
      name: 'resolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: ['^virtual:', '\\?', '\\.css$', 'kernelBytes'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['/dist/', 'packages/kernels/assembly'] },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default', 'types'] },
  },
};
