import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    reporters: ['default', ...(process.env['COUNTS'] ? ['./scripts/lib/vitest-counts.mjs'] : [])],
    setupFiles: ['web/testing/setup.ts'],
  },
});
