import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { examinePaths, planBatch, type BatchClip } from './batch.ts';
import { finishAndCut, type Recipe } from './recipe.ts';

const clips = (...paths: string[]): BatchClip[] =>
  paths.map((path) => ({
    whole: 'R',
    clip: sampleClip({ path, stem: (path.split('/').at(-1) as string).replace(/\.\w+$/, '') }),
  }));
const withPattern = (pattern: string): Recipe => ({
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.map((one) => ({ ...one, path: { pattern } })),
});

it('A.mov beside A.mp4 clash, all of them, and the ending tells them apart', () => {
  const two = clips('A001/A.mov', 'A001/A.mp4', 'A001/B.mov');
  expect(planBatch(two, finishAndCut, []).map((plan) => plan.ok)).toEqual([false, false, true]);
  const { clashes, remedy } = examinePaths(two, finishAndCut, []);
  expect(clashes.map(({ kind, original }) => [kind, original])).toEqual([
    ['same path', 'A001/A.mov'],
    ['same path', 'A001/A.mov'],
    ['same path', 'A001/A.mp4'],
    ['same path', 'A001/A.mp4'],
  ]);
  expect(remedy?.text).toBe("Add the original's ending to the name");
  expect(examinePaths(two, remedy?.recipe as Recipe, []).paths.map(({ path }) => path)).toContain(
    'proxy/A001/A_mp4.mov',
  );
  expect(planBatch(two, remedy?.recipe as Recipe, []).every((plan) => plan.ok)).toBe(true);
});

it('one name on two cards clashes where folders are not mirrored: the roll tells them apart; case alone wants a counter', () => {
  const cards = clips('A001/C0001.mov', 'A002/C0001.mov');
  expect(examinePaths(cards, finishAndCut, []).clashes).toEqual([]);
  expect(examinePaths(cards, withPattern('[stem]'), []).remedy?.text).toBe('Add the roll to the name');
  expect(examinePaths(clips('A001/c1.mov', 'A001/C1.mov'), finishAndCut, []).remedy?.text).toBe(
    'Add a counter to the name',
  );
  expect(examinePaths(clips('A001/a?.mov'), finishAndCut, []).remedy?.text).toBe('Replace such characters with -');
});
