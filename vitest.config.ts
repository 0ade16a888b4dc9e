import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  resolve: { alias: { '@core': at('./core'), '@contract': at('./contract') } },
  test: {
    projects: [
      {
        extends: true,
        test: {
          name: 'unit',
          // The calculation keeps nothing in modules: what one file has made warm, the next goes on with.
          isolate: false,
          include: ['core/**/*.test.ts', 'contract/**/*.test.ts', 'terminal/**/*.test.ts', 'stand-ins/**/*.test.ts'],
          testTimeout: 300_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'server',
          // Nothing that a test changes is kept in modules: each worker reads the server's code once, not once for each file.
          isolate: false,
          include: ['server/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          globalSetup: ['server/testing/cluster.ts'],
        },
      },
      {
        extends: true,
        test: { name: 'scripts', include: ['scripts/**/*.test.ts'], testTimeout: 600_000, hookTimeout: 600_000 },
      },
    ],
  },
});
