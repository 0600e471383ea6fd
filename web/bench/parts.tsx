import { useAddress } from '../ui/useAddress.ts';

export const parts = ['colour', 'shape', 'time', 'sound', 'repair'] as const;
/** What of a clip's corrections is on the bench. */
export type Part = (typeof parts)[number];

export function usePart(): [Part, (part: Part) => void] {
  const [search, setSearch] = useAddress();
  const wanted = search.get('part');
  return [
    parts.find((part) => part === wanted) ?? 'colour',
    (part) => setSearch({ part: part === 'colour' ? null : part }),
  ];
}

/** The parts of corrections, above the docket. */
export function PartTabs({ part, onPart }: { part: Part; onPart: (part: Part) => void }) {
  return (
    <div role="group" aria-label="Corrections of" className="flex shrink-0 border-b border-line">
      {parts.map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={part === one}
          onClick={() => onPart(one)}
          className={`h-9 flex-1 capitalize ${part === one ? 'border-b-2 border-ink font-semibold' : 'text-dim hover:text-ink'}`}
        >
          {one}
        </button>
      ))}
    </div>
  );
}
