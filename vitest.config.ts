import { defineConfig } from 'vitest/config';
import { LongestFirst } from './testing/longestFirst.ts';
import { watForVite } from './watModules.mjs';

/** Tests of what takes long, or of who waits for whom: half of the machine is theirs. */
const alone = [
  'media/leg/stall.test.ts',
  'work/disk/quiet.test.ts',
  'server/runs/workers.test.ts',
  'server/runs/segments.test.ts',
  'server/runs/runPlaces.test.ts',
  'server/inlets/killed.test.ts',
  'e2e/compare.test.ts',
  'e2e/firstLeg.test.ts',
  'e2e/runs.test.ts',
];
/** Real FFmpeg, PostgreSQL and browsers: time enough for a machine that is ten times slower. No test has a limit of its own. */
const slow = {
  testTimeout: 900_000,
  hookTimeout: 900_000,
  // The server holds every answer against its row, and workers wait a third as long for each other.
  env: { RELAY_CHECK_ANSWERS: 'yes', RELAY_HURRY: '3' },
};

/** Groups run one after the other, the files of a group as many at a time as it says: two cores are meant. */
export default defineConfig({
  test: {
    sequence: { sequencer: LongestFirst },
    projects: [
      {
        plugins: [watForVite],
        test: {
          name: 'unit',
          include: ['{core,contract,web,demo,testing}/**/*.test.{ts,tsx}'],
          testTimeout: 120_000,
          maxWorkers: 2,
          // Nothing in them outlives a test: what they import is read once for all files.
          isolate: false,
          sequence: { groupOrder: 0 },
        },
      },
      {
        plugins: [watForVite],
        test: {
          ...slow,
          name: 'whole',
          globalSetup: ['testing/setup.ts'],
          include: ['{media,work,server,cli,bench}/**/*.test.ts'],
          exclude: alone,
          // Each waits much for processes and disks: four keep two cores busy, where two leave a third of them idle.
          maxWorkers: 4,
          sequence: { groupOrder: 1 },
        },
      },
      {
        plugins: [watForVite],
        test: {
          ...slow,
          name: 'browser',
          globalSetup: ['testing/preparedSite.ts'],
          include: ['e2e/**/*.test.ts'],
          exclude: alone,
          maxWorkers: 3,
          sequence: { groupOrder: 2 },
        },
      },
      {
        plugins: [watForVite],
        test: {
          ...slow,
          name: 'alone',
          globalSetup: ['testing/preparedSite.ts'],
          include: alone,
          maxWorkers: 2,
          sequence: { groupOrder: 3 },
        },
      },
    ],
  },
});
