import type { RemovalLine, RemovalState } from '@relay/contract/space';
import { plural, sayBytes, sayClock } from '../ui/format.ts';

const states: Readonly<Record<RemovalState, string>> = {
  waiting: 'waits for a worker',
  removing: 'is under way',
  done: '',
  stopped: 'stopped',
  failed: 'broke off',
};

/** In a few words, how a deletion stands. */
export function sayRemoval({ state, filesDone, bytesDone, left }: RemovalLine): string {
  const parts = [
    states[state],
    filesDone > 0 || state === 'done' ? `${plural(filesDone, 'file')} gone, ${sayBytes(bytesDone)} came back` : '',
    left > 0 ? `${left} left` : '',
  ];
  return parts.filter((part) => part !== '').join('; ');
}

/** What was deleted so far, the newest first. */
export function RemovalList({ removals, onOpen }: { removals: readonly RemovalLine[]; onOpen: (id: string) => void }) {
  if (removals.length === 0) return null;
  return (
    <section aria-label="What went" className="mt-8">
      <h3 className="mb-1 font-semibold text-dim">What went</h3>
      <ul className="border-t border-line">
        {removals.map((removal) => (
          <li key={removal.id} className="border-b border-line">
            <button
              type="button"
              onClick={() => onOpen(removal.id)}
              className="flex w-full flex-wrap items-baseline gap-x-4 gap-y-1 px-2 py-2.5 text-left hover:bg-raised/50"
            >
              <span className="min-w-40 flex-1 break-words">{removal.says}</span>
              <span>{sayRemoval(removal)}</span>
              <span className="text-dim">
                {removal.who}, {removal.createdAt.slice(0, 10)} {sayClock(new Date(removal.createdAt))}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
