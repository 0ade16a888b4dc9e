import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const locales = fileURLToPath(new URL('../node_modules/chrono-node/dist/esm/locales/', import.meta.url));

export default defineConfig({
  // Vite does not follow the package's two-starred exports; the application's own build does.
  resolve: { alias: [{ find: /^chrono-node\/(\w+)$/, replacement: `${locales}$1/index.js` }] },
  test: {
    // The default five seconds are short on a machine that does something else besides.
    testTimeout: 60_000,
    hookTimeout: 60_000,
    reporters: ['default', ...(process.env['COUNTS'] ? ['./scripts/lib/vitest-counts.mjs'] : [])],
    setupFiles: ['web/testing/setup.ts'],
  },
});
