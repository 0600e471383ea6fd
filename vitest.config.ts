import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'unit', include: ['{core,contract,web,demo}/**/*.test.{ts,tsx}'] } },
      {
        // Real FFmpeg, real PostgreSQL, a real browser: one file at a time on two cores, and time enough.
        test: {
          name: 'whole',
          include: ['{media,server,cli,bench,e2e}/**/*.test.ts'],
          globalSetup: ['testing/setup.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
