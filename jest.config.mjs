const common = {
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/jestTransform.mjs' },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
};
export default {
  projects: [
    { ...common, displayName: 'unit', testMatch: ['<rootDir>/packages/{kernels,core,contract,runtime,cli,demo,web}/**/*.test.ts?(x)'] },
    { ...common, displayName: 'server', testMatch: ['<rootDir>/packages/server/**/*.test.ts'] },
    { ...common, displayName: 'e2e', testMatch: ['<rootDir>/packages/e2e/**/*.test.ts'] },
  ],
  testTimeout: 60000,
};
