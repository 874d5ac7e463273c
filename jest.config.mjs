const transform = {
  '^.+\\.(ts|tsx|js|mjs)$': [
    '@swc/jest',
    { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022', transform: { react: { runtime: 'automatic' } } } },
  ],
};
const common = {
  transform,
  transformIgnorePatterns: ['/node_modules/(?!(d3-[a-z]+|@tanstack/[a-z-]+|fflate|comlink|dexie|jsonc-parser)/)'],
  moduleNameMapper: { '^@gentle-compass/core/(.*)$': '<rootDir>/packages/core/src/$1' },
};
export default {
  // What a test claims is never how long it takes; a loaded machine may be slow.
  testTimeout: 120_000,
  projects: [
    { ...common, rootDir: '.', displayName: 'core', testEnvironment: 'node', testMatch: ['<rootDir>/packages/core/src/**/*.test.ts'] },
    { ...common, rootDir: '.', displayName: 'cli', testEnvironment: 'node', testMatch: ['<rootDir>/packages/cli/src/**/*.test.ts'] },
    { ...common, rootDir: '.', displayName: 'web', testEnvironment: 'node', testMatch: ['<rootDir>/packages/web/{src,app}/**/*.test.ts'] },
    {
      ...common,
      rootDir: '.',
      displayName: 'screens',
      testEnvironment: '<rootDir>/packages/web/testing/page-environment.cjs',
      setupFilesAfterEnv: ['<rootDir>/packages/web/testing/page-setup.ts'],
      testMatch: ['<rootDir>/packages/web/src/**/*.test.tsx'],
    },
  ],
};
