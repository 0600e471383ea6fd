import type { SpaceKind, SpaceSet } from '@relay/contract/space';
import { plural } from '../ui/format.ts';
import { Bytes } from '../ui/pieces.tsx';

export const kindNames: Readonly<Record<SpaceKind, string>> = {
  intermediate: 'Intermediates',
  proxy: 'Proxies',
  review: 'Review copies',
  pulled: 'Pulled stretches',
  superseded: 'Older versions',
  cache: 'Pictures drawn for looking',
};

interface SetListProps {
  sets: readonly SpaceSet[];
  chosen: ReadonlySet<string>;
  onChoose: (chosen: ReadonlySet<string>) => void;
}

/** What could go, what gives the most back in front; each with why it is safe, and why some of it stays. */
export function SetList({ sets, chosen, onChoose }: SetListProps) {
  const largest = Math.max(1, ...sets.map(({ bytes }) => bytes));
  const toggle = (key: string): void =>
    onChoose(new Set(chosen.has(key) ? [...chosen].filter((one) => one !== key) : [...chosen, key]));
  return (
    <ul aria-label="What could go" className="border-t border-line">
      {sets.map((set) => (
        <li key={set.key} className="border-b border-line">
          <label
            className={`grid grid-cols-[auto_minmax(9rem,15rem)_minmax(0,1fr)_6rem] items-baseline gap-x-4 px-2 py-2.5 ${set.goes > 0 ? 'cursor-pointer hover:bg-raised/50' : ''}`}
          >
            <input
              type="checkbox"
              className="accent-clay"
              disabled={set.goes === 0}
              checked={chosen.has(set.key)}
              onChange={() => toggle(set.key)}
            />
            <span className="min-w-0">
              <span className="font-semibold">{kindNames[set.kind]}</span>
              <span className="block break-words text-dim">{set.run}</span>
            </span>
            <Why set={set} />
            <span className="text-right">
              <Bytes value={set.goes > 0 ? set.goesBytes : set.bytes} />
              <Share set={set} largest={largest} />
            </span>
          </label>
        </li>
      ))}
    </ul>
  );
}

function Why({ set: { goes, files, safe, stays, stores } }: { set: SpaceSet }) {
  return (
    <span className="min-w-0 text-dim">
      <span className={goes === 0 ? '' : 'text-ink'}>
        {goes === files ? plural(files, 'file') : goes === 0 ? `None of ${files} may go` : `${goes} of ${files} may go`}
      </span>
      {stores.length > 0 && ` · ${stores.join(', ')}`}
      {goes > 0 && <span className="block">{safe}</span>}
      {stays.slice(0, 3).map(({ why, files: count }) => (
        <span key={why} className="block break-words">
          {count} {count === 1 ? 'stays' : 'stay'}: {why}
        </span>
      ))}
      {stays.length > 3 && <span className="block">and others, for {stays.length - 3} more reasons</span>}
    </span>
  );
}

/** How much of the largest set it is, and how much of that may go. */
function Share({ set: { bytes, goesBytes }, largest }: { set: SpaceSet; largest: number }) {
  return (
    <span aria-hidden className="mt-1 block h-1 overflow-hidden rounded-full bg-lane">
      <span className="flex h-1" style={{ width: `${Math.max(1, (100 * bytes) / largest)}%` }}>
        <span className="h-1 bg-teal" style={{ width: `${bytes === 0 ? 0 : (100 * goesBytes) / bytes}%` }} />
        <span className="h-1 flex-1 bg-faint" />
      </span>
    </span>
  );
}
