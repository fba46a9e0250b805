/**
 * Mutation testing of what judges: `npm run mutants` changes one thing at a time in these rooms and asks the core's tests whether they notice. It goes on from
 * what it found before (`incremental`), and is no part of `npm test`: a whole run takes hours. Survivors that mean the same are named in docs/mutants.md.
 * A room alone: `npm run mutants -- --mutate 'core/src/uncertainty/**'`.
 */
export default {
  testRunner: 'vitest',
  // The examples import what they read: no import graph leads to them.
  vitest: { configFile: 'stryker.vitest.config.ts', related: false },
  plugins: ['@stryker-mutator/vitest-runner'],
  mutate: ['core/src/{method,run,schedule,uncertainty}/**/*.ts', '!**/index.ts'],
  ignorePatterns: ['dist', 'e2e', 'web', 'server', 'tools', 'docs/screenshots'],
  coverageAnalysis: 'perTest',
  // What is worked out once, when a module is read, would have every test run anew for each change: those tables are held by the tests of the catalogue.
  ignoreStatic: true,
  incremental: true,
  incrementalFile: 'e2e/results/mutants.json',
  concurrency: 2,
  reporters: ['clear-text', 'progress'],
  clearTextReporter: { allowColor: false, logTests: false, allowEmojis: false },
  tempDirName: 'e2e/results/.mutants',
  thresholds: { high: 90, low: 85, break: 85 },
};
