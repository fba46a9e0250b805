import { defineConfig } from 'vitest/config';

/**
 * The core's tests alone, as the mutants are asked of them. The whole catalogue on its rigs is left out: it notices much and says nothing of what, and a mutant
 * that only it notices wants a test of its own.
 */
// Of what the tests take turns with, the first part: a mutant is tried by hundreds of tests as it is.
process.env['TEST_TURN'] ??= '0';

export default defineConfig({
  test: {
    include: ['core/test/**/*.test.ts'],
    exclude: ['core/test/catalogue/coverage.test.ts', 'core/test/catalogue/{brakes,breathing,vessels}.test.ts', 'core/test/practice/**'],
    environment: 'node',
    testTimeout: 60_000,
  },
});
