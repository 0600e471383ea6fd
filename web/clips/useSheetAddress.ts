import { useEffect, useRef, useState } from 'react';
import { useAddress } from '../ui/useAddress.ts';
import { selectionAsText, selectionOf, type Selection } from './selection.ts';
import { sortingAsText, sortingOf, type Sorting } from './sorting.ts';

/** What each production's sheet was sorted and filtered by, kept while one is at another station. */
const kept = new Map<string, { sort: string | null; filter: string | null }>();

/** How the sheet is sorted and filtered, as the address says; the words of the filter once typing rests. */
export function useSheetAddress(production: string) {
  const [address, say] = useAddress();
  const [sort, filter] = [address.get('sort'), address.get('filter')];
  const [typed, setTyped] = useState(filter ?? '');
  const [seen, setSeen] = useState(filter);
  const [sent, setSent] = useState(filter ?? '');
  // Other words in the address, by a link or a step back, are shown in the field; our own come back as they were sent,
  // while somebody may have typed on.
  if (filter !== seen) {
    setSeen(filter);
    if ((filter ?? '') !== sent) setTyped(filter ?? '');
  }
  const came = useRef('');
  useEffect(() => {
    const before = kept.get(production);
    const arrives = came.current !== production;
    came.current = production;
    if (arrives && before && sort === null && filter === null) {
      say({ ...before });
      setTyped(before.filter ?? '');
    } else kept.set(production, { sort, filter });
  }, [production, sort, filter, say]);
  useEffect(() => {
    if (typed === (filter ?? '')) return;
    const timer = setTimeout(() => {
      setSent(typed.trim() === '' ? '' : typed);
      say({ filter: typed.trim() === '' ? null : typed });
    }, 150);
    return () => clearTimeout(timer);
  }, [typed, filter, say]);
  return {
    sorting: sortingOf(sort),
    setSorting: (next: Sorting) => say({ sort: sortingAsText(next) }),
    filter: filter ?? '',
    typed,
    setTyped,
  };
}

/** Writes what is selected into the address as it rests, and takes it from there once, where nothing was kept. */
export function useSelectionInAddress(
  selection: Selection,
  ids: readonly string[],
  select: (selection: Selection) => void,
): void {
  const [address, say] = useAddress();
  const said = address.get('clips');
  const taken = useRef(false);
  const text = selectionAsText(selection, ids);
  useEffect(() => {
    if (ids.length === 0) return;
    if (!taken.current) {
      taken.current = true;
      const before = selectionOf(said, ids);
      if (selection.chosen.size === 0 && before.chosen.size > 0) {
        select(before);
        return;
      }
    }
    const timer = setTimeout(() => say({ clips: text }), 250);
    return () => clearTimeout(timer);
  }, [ids, said, text, selection.chosen.size, select, say]);
}
