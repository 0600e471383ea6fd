import { sampleClip } from '@relay/core/clip/sample';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { expect, it } from 'vitest';
import { readEntry } from './description.ts';
import { correctionsFile, recipe } from './recipe.ts';

it("takes core's own recipe and descriptions as they are", () => {
  expect(recipe.parse(JSON.parse(JSON.stringify(finishAndCut)))).toEqual(finishAndCut);
  expect(readEntry.parse(JSON.parse(JSON.stringify(sampleClip())))).toEqual(sampleClip());
});

it('refuses wishes that it would not carry out: unknown fields, shared folders, ways out', () => {
  const [first, second] = finishAndCut.deliverables;
  const bad: unknown[] = [
    { ...finishAndCut, colour: 'warm' },
    { ...finishAndCut, version: 2 },
    { ...finishAndCut, deliverables: [] },
    { ...finishAndCut, deliverables: [first, { ...second, folder: 'intermediate' }] },
    ...['..', 'a/../b', '/abs', 'a//b', 'a\\b', 'nul\u0000l'].map((folder) => ({
      ...finishAndCut,
      deliverables: [{ ...first, folder }],
    })),
    { ...finishAndCut, deliverables: [{ ...second, codec: { id: 'h264', quality: 99 } }] },
    { ...finishAndCut, deliverables: [{ ...first, codec: { id: 'prores', profile: '5555' } }] },
    { ...finishAndCut, deliverables: [{ ...first, wrapper: 'mp4' }] },
    { ...finishAndCut, deliverables: [{ ...second, wrapper: 'mp4' }] },
    { ...finishAndCut, deliverables: [{ ...first, codec: { id: 'prores', profile: 'hq', alpha: 'kept' } }] },
    { ...finishAndCut, deliverables: [{ ...second, codec: { id: 'hevc', quality: 24, chroma: '4:2:2' } }] },
  ];
  for (const value of bad) expect(recipe.safeParse(value).success).toBe(false);
  expect(
    correctionsFile.safeParse({
      version: 1,
      rules: [{ when: { path: '*.mov' }, change: { shape: { squeeze: { num: 4, den: 3 } } } }],
    }).success,
  ).toBe(true);
  expect(
    correctionsFile.safeParse({ version: 1, rules: [{ when: {}, change: { shape: { squish: 2 } } }] }).success,
  ).toBe(false);
});
