import { defineConfig } from 'vitest/config';

// The Angular components run through "ng test" (@angular/build:unit-test); everything else runs here.
export default defineConfig({
  test: {
    // Both cores of a small machine, and no more of a large one than its database and its kills bear.
    maxWorkers: 2,
    projects: [
      // What only computes keeps nothing of one file for the next: it is read once and not fifty times.
      { test: { name: 'core', isolate: false, include: ['core/test/**/*.test.ts'], environment: 'node', testTimeout: 60_000 } },
      { test: { name: 'contract', isolate: false, include: ['contract/test/**/*.test.ts'], environment: 'node', testTimeout: 60_000 } },
      { test: { name: 'tools', include: ['tools/test/**/*.test.ts'], environment: 'node', testTimeout: 60_000 } },
      {
        test: {
          name: 'server',
          isolate: false,
          include: ['server/test/**/*.test.ts'],
          environment: 'node',
          globalSetup: ['server/test/testing/database.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
