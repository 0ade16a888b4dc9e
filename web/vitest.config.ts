import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // The default five seconds are short on a machine that does something else besides.
    testTimeout: 60_000,
    hookTimeout: 60_000,
    reporters: ['default', ...(process.env['COUNTS'] ? ['./scripts/lib/vitest-counts.mjs'] : [])],
    setupFiles: ['web/testing/setup.ts'],
  },
});
