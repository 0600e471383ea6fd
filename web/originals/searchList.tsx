import type { SearchLine, SearchState } from '@relay/contract/originals';
import { plural, sayClock } from '../ui/format.ts';

const says: Readonly<Record<SearchState, string>> = {
  waiting: 'Waits for a worker',
  looking: 'Is looked for',
  found: 'Looked through',
  failed: 'Could not be looked through',
  taken: 'Taken over',
  undone: 'Taken over, and put back',
};

/** In a word or two, how a search stands. */
export function saySearch({ state, taken }: Pick<SearchLine, 'state' | 'taken'>): string {
  return state === 'taken' ? `${plural(taken, 'file')} taken over` : says[state];
}

/** Searches so far, the newest first. */
export function SearchList({ searches, onOpen }: { searches: readonly SearchLine[]; onOpen: (id: string) => void }) {
  if (searches.length === 0) return null;
  return (
    <section aria-label="Looked for" className="mt-8">
      <h3 className="mb-1 font-semibold text-dim">Looked for</h3>
      <ul className="border-t border-line">
        {searches.map((search) => (
          <li key={search.id} className="border-b border-line">
            <button
              type="button"
              onClick={() => onOpen(search.id)}
              className="flex w-full flex-wrap items-baseline gap-x-4 gap-y-1 px-2 py-2.5 text-left hover:bg-raised/50"
            >
              <span className="min-w-40 flex-1">
                {search.storeName}
                <span className="ml-2 font-mono text-[12px] break-all text-faint">{search.folder}</span>
              </span>
              <span>{saySearch(search)}</span>
              <span className="text-dim">
                {search.who}, {search.createdAt.slice(0, 10)} {sayClock(new Date(search.createdAt))}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
