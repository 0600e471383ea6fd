import { expect, it } from 'vitest';
import { clipSorts } from '@relay/contract/clips';
import { grouped, sortedBy, sortingAsText, sortingOf } from './sorting.ts';

it('a column is sorted up, then down, then not any more; another column begins up', () => {
  const once = sortedBy(grouped, 'name');
  const twice = sortedBy(once, 'name');
  expect([once, twice, sortedBy(twice, 'name')]).toEqual([
    { sort: 'name', direction: 'up' },
    { sort: 'name', direction: 'down' },
    grouped,
  ]);
  expect(sortedBy(twice, 'length')).toEqual({ sort: 'length', direction: 'up' });
});

it('is read from an address as it was written; what is no sorting is groups', () => {
  for (const sort of clipSorts.filter((one) => one !== 'group'))
    for (const direction of ['up', 'down'] as const)
      expect(sortingOf(sortingAsText({ sort, direction }))).toEqual({ sort, direction });
  for (const text of [null, '', 'group', '-group', 'nothing', '--name']) expect(sortingOf(text)).toEqual(grouped);
  expect(sortingAsText(grouped)).toBeNull();
});
