import type { OriginalsLine } from '@relay/contract/originals';
import { plural } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { Bytes } from '../ui/pieces.tsx';
import { placeKey } from './placeKey.ts';

interface PlaceListProps {
  places: readonly OriginalsLine[];
  chosen: ReadonlySet<string>;
  onChoose: (chosen: ReadonlySet<string>) => void;
}

/** Where originals lie, roll by roll, what is gone in front; those that are to be looked for have a tick. */
export function PlaceList({ places, chosen, onChoose }: PlaceListProps) {
  const inOrder = [...places].sort((a, b) => Number(b.gone > 0) - Number(a.gone > 0));
  const toggle = (key: string): void =>
    onChoose(new Set(chosen.has(key) ? [...chosen].filter((one) => one !== key) : [...chosen, key]));
  return (
    <ul aria-label="Where they lie" className="border-t border-line">
      {inOrder.map((place) => {
        const key = placeKey(place);
        return (
          <li key={key} className="border-b border-line">
            <label className="grid cursor-pointer grid-cols-[auto_minmax(6rem,14rem)_minmax(0,1fr)_5rem_minmax(9rem,13rem)] items-baseline gap-x-4 px-2 py-2.5 hover:bg-raised/50">
              <input type="checkbox" className="accent-clay" checked={chosen.has(key)} onChange={() => toggle(key)} />
              <span className="font-semibold break-words">{place.roll || place.storeName}</span>
              <span className="min-w-0 text-dim">
                {place.storeName}
                <span className="block font-mono text-[12px] break-all text-faint">
                  {place.folder || 'the store itself'}
                </span>
              </span>
              <span className="text-right">
                <Bytes value={place.bytes} />
              </span>
              <Standing place={place} />
            </label>
          </li>
        );
      })}
    </ul>
  );
}

function Standing({ place: { storeThere, storeName, gone, files } }: { place: OriginalsLine }) {
  if (gone === 0) return <span className="text-dim">{plural(files, 'file')} there</span>;
  return (
    <span className="flex items-baseline gap-1.5">
      <LevelShape level="stop" />
      {storeThere ? `${gone} of ${plural(files, 'file')} gone` : `${storeName} is not there`}
    </span>
  );
}
