import { expect, it } from 'vitest';
import { grouped, sortedBy } from './sorting.ts';

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
