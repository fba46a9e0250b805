import { defineConfig } from 'vitest/config';

/** What the component tests are given besides the builder's own: time enough on a machine that is busy with something else. */
export default defineConfig({ test: { testTimeout: 60_000, hookTimeout: 60_000 } });
