import { clipSorts, type ClipSort } from '@relay/contract/clips';

export interface Sorting {
  sort: ClipSort;
  direction: 'up' | 'down';
}

/** Clips in their groups. */
export const grouped: Sorting = { sort: 'group', direction: 'up' };

/** What a press on a column's head makes of a sorting: up, then down; a third press brings the groups back. */
export function sortedBy({ sort, direction }: Sorting, column: ClipSort): Sorting {
  if (column !== sort) return { sort: column, direction: 'up' };
  return direction === 'up' ? { sort, direction: 'down' } : grouped;
}

/** A sorting as an address says it: the column's name, with `-` before it where it goes down; null for groups. */
export function sortingAsText({ sort, direction }: Sorting): string | null {
  return sort === 'group' ? null : `${direction === 'down' ? '-' : ''}${sort}`;
}

/** Reads such a word; what is none is groups. */
export function sortingOf(text: string | null): Sorting {
  const sort = clipSorts.find((one) => one === text?.replace(/^-/, ''));
  return sort === undefined || sort === 'group' ? grouped : { sort, direction: text?.startsWith('-') ? 'down' : 'up' };
}
