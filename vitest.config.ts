import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{core,contract,media,demo,server,cli,web}/**/*.test.{ts,tsx}'],
    testTimeout: 120_000,
    hookTimeout: 180_000,
    maxWorkers: 2,
  },
});
