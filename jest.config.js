import { bundled } from './server/test/bundled.mjs'

export default {
  testMatch: ['<rootDir>/{core,server,web,standins,demo,bench}/**/*.test.{ts,tsx}'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
  watchman: false,
  // modules of a test that has ended stay in memory: a worker that holds too much of them is begun anew
  workerIdleMemoryLimit: '1200MB',
  moduleNameMapper: {
    '^(node-fetch|sync-fetch)$': '<rootDir>/server/test/no-network.cjs',
    ...Object.fromEntries(Object.entries(bundled).map(([name, file]) => [`^${name}$`, file])),
  },
  setupFiles: ['<rootDir>/web/test/setup.mjs'],
  // only a test that hangs meets it: a busy machine may take many times as long as an idle one
  testTimeout: 300_000,
  testSequencer: '<rootDir>/server/test/longest-first.mjs',
  globalSetup: '<rootDir>/server/test/global-setup.mjs',
  globalTeardown: '<rootDir>/server/test/global-teardown.mjs',
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
}
