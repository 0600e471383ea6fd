import type { ClipSort } from '@relay/contract/clips';

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
