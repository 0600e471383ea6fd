import { useCallback, useState } from 'react';
import { nothing, type Selection } from './selection.ts';

/** What is selected in each production's sheet, kept while one is at another station. */
const kept = new Map<string, Selection>();

export function useKeptSelection(production: string): [Selection, (next: Selection) => void] {
  const [, again] = useState({});
  const keep = useCallback(
    (next: Selection) => {
      kept.set(production, next);
      again({});
    },
    [production],
  );
  return [kept.get(production) ?? nothing, keep];
}

/** Ids of the clips that were selected when the sheet was left. */
export function keptClips(production: string): string[] {
  return [...(kept.get(production)?.chosen ?? [])];
}
