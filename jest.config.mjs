const common = {
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jestTransform.mjs' },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
};
export default {
  projects: [
    { ...common, displayName: 'unit', testMatch: ['<rootDir>/packages/{kernels,core,contract,runtime,cli,demo,web}/**/*.test.ts'] },
    {
      ...common,
      displayName: 'components',
      testEnvironment: '<rootDir>/scripts/jestDom.mjs',
      testMatch: ['<rootDir>/packages/web/**/*.test.tsx'],
      moduleNameMapper: { '\\.css$': '<rootDir>/scripts/noStyle.mjs' },
    },
    { ...common, displayName: 'server', testMatch: ['<rootDir>/packages/server/**/*.test.ts'] },
    { ...common, displayName: 'e2e', testMatch: ['<rootDir>/packages/e2e/**/*.test.ts'] },
  ],
  testTimeout: 60000,
};
