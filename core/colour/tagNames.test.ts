import { expect, it } from 'vitest';
import { colourState } from './states.ts';
import { sayTag } from './tagNames.ts';
import { tagsOf } from './tags.ts';

it('every tag that we write has the name of its standard, and an unknown one stays as it is', () => {
  for (const state of ['bt709', 'bt2020', 'pq', 'hlg', 'srgb', 'gamma22-p3d65']) {
    const made = colourState(state);
    if (!made.ok) throw new Error(state);
    const { primaries, transfer, matrix } = tagsOf(made.value);
    for (const tag of [primaries, transfer, matrix]) {
      if (tag !== null && tag !== 'linear') expect([tag, sayTag(tag) !== tag]).toEqual([tag, true]);
    }
  }
  expect(['bt709', 'smpte2084', 'arib-std-b67', 'reserved'].map(sayTag)).toEqual([
    'BT.709',
    'PQ (ST 2084)',
    'HLG (STD-B67)',
    'reserved',
  ]);
});
