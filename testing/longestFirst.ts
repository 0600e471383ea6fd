import { relative } from 'node:path';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/**
 * Files that take longest, in the order in which they are begun: one of them begun last would leave the other workers
 * of its group without work. A checkout that never ran them knows but their sizes, which say little. In seconds, several
 * at a time on two cores, of December 2026 (`.relay/test-report.json` of a run has them anew).
 */
const seconds: Readonly<Record<string, number>> = {
  'work/leg/codecs.test.ts': 381,
  'work/leg/comparing.test.ts': 298,
  'work/leg/along.test.ts': 248,
  'e2e/firstLeg.test.ts': 238,
  'e2e/cuts.test.ts': 206,
  'work/leg/levels.test.ts': 183,
  'server/inlets/after.test.ts': 175,
  'e2e/recipes.test.ts': 166,
  'work/leg/planting.test.ts': 150,
  'server/hostile.test.ts': 148,
  'e2e/runs.test.ts': 145,
  'work/leg/odd.test.ts': 141,
  'server/inlets/killed.test.ts': 138,
  'media/leg/segment.test.ts': 136,
  'work/watch/aloneFaults.test.ts': 134,
  'work/leg/leg.test.ts': 133,
  'server/space/space.test.ts': 132,
  'media/look/fields.test.ts': 132,
  'server/inlets/inlets.test.ts': 129,
  'e2e/hands.test.ts': 125,
  'server/handoffs/handoffs.test.ts': 119,
  'e2e/windows.test.ts': 119,
  'server/server.test.ts': 117,
  'e2e/checkSheet.test.ts': 116,
  'cli/compare.test.ts': 116,
  'work/watch/aloneInlet.test.ts': 113,
  'e2e/arrivals.test.ts': 111,
  'e2e/axe.test.ts': 103,
  'server/arrivals/rolls.test.ts': 99,
  'work/leg/part.test.ts': 87,
  'e2e/places.test.ts': 83,
  'e2e/takenBack.test.ts': 78,
  'cli/watch.test.ts': 77,
  'e2e/corrections.test.ts': 76,
  'media/process/part.test.ts': 75,
  'work/leg/sizes.test.ts': 73,
  'cli/relay.test.ts': 72,
  'server/runs/workers.test.ts': 71,
  'e2e/inlets.test.ts': 70,
  'e2e/handoffs.test.ts': 67,
  'cli/cut.test.ts': 64,
  'work/leg/burn.test.ts': 62,
  'e2e/bench.test.ts': 61,
  'e2e/ownFootage.test.ts': 61,
  'cli/handoff.test.ts': 61,
  'server/checks/checkSheet.test.ts': 59,
  'server/originals/moved.test.ts': 58,
  'work/arrive/arrive.test.ts': 58,
  'e2e/compare.test.ts': 56,
  'server/runs/segments.test.ts': 51,
  'work/leg/sets.test.ts': 48,
  'work/leg/conform.test.ts': 48,
  'server/bench/bench.test.ts': 45,
  'media/process/stopEarly.test.ts': 42,
  'server/runs/runPlaces.test.ts': 42,
  'work/leg/colour.test.ts': 42,
  'media/describe/describe.test.ts': 42,
  'server/checks/measurings.test.ts': 39,
  'work/leg/again.test.ts': 39,
  'media/leg/stall.test.ts': 39,
  'work/leg/chapters.test.ts': 37,
  'cli/colour.test.ts': 37,
};

/** Their names. */
export const longest = Object.keys(seconds);

/** Tests in the order of their groups, the longest files of each first. */
export class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const usual = await super.sort(files);
    const of = ({ moduleId }: TestSpecification): number => seconds[relative(this.ctx.config.root, moduleId)] ?? 0;
    const group = ({ project }: TestSpecification): number => project.config.sequence.groupOrder;
    return usual.sort((a, b) => group(a) - group(b) || of(b) - of(a));
  }
}
