import { defineConfig } from '@playwright/test';

/** Against the product as `npm start` starts it; tools/test.mjs starts it and sets BASE_URL. */
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'e2e/results',
  workers: 2,
  fullyParallel: true,
  timeout: 180_000,
  expect: { timeout: 20_000 },
  // Patience can run out on a machine that is busy with something else: tried once more, and said (tools/test.mjs). What was seen and was wrong is never forgiven.
  retries: process.env['CI'] === 'true' ? 1 : 0,
  // Killing the server disturbs everything else: it comes last and alone.
  projects:
    process.env['PICTURES'] === '1'
      ? [{ name: 'pictures', testMatch: 'pictures/*.spec.ts' }]
      : process.env['MINUTES'] !== undefined
        ? [{ name: 'measure', testMatch: 'measure/*.spec.ts' }]
        : [
            { name: 'screens', testMatch: '*.spec.ts', testIgnore: ['continuity.spec.ts', 'pictures/**', 'measure/**'] },
            { name: 'continuity', testMatch: 'continuity.spec.ts', dependencies: ['screens'] },
          ],
  reporter: [['list'], ['json', { outputFile: 'e2e/results/report.json' }]],
  use: {
    baseURL: process.env['BASE_URL'] ?? 'http://127.0.0.1:4600',
    viewport: { width: 1280, height: 800 },
    // What is tested is what the server gives: the kept pages have a test of their own (away.spec.ts).
    serviceWorkers: 'block',
    // A trace of every step took a quarter of the time on a machine of two cores: asked for where a failure is looked into. What fails says where it stood.
    trace: process.env['TRACE'] === '1' ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
