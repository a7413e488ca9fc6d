export default {
  testMatch: ['<rootDir>/{test,app/test,packages/*/test}/**/*.test.{ts,tsx}'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '<rootDir>/scripts/jest/transform.mjs',
      {
        module: { type: 'es6' },
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true, decorators: true },
          transform: { legacyDecorator: true, decoratorMetadata: true, react: { runtime: 'automatic' } },
        },
      },
    ],
  },
  moduleNameMapper: {
    '^~/(.*)$': '<rootDir>/app/$1',
    '^@glimbo/kernel$': '<rootDir>/packages/kernel/src/index.ts',
    '^@glimbo/([a-z]+)/(.*)$': '<rootDir>/packages/$1/src/$2.ts',
    '^(\\.{1,2}/.*)\\.js$': '$1',
  },
  testEnvironment: 'node',
  globalSetup: '<rootDir>/scripts/jest/built.mjs',
  setupFiles: ['<rootDir>/test/properties.ts'],
  testTimeout: 20000,
  maxWorkers: 2,
};
