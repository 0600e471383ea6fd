import type { RootAnswer, StoreAnswer } from '@relay/contract/site';
import { useQuery } from '@tanstack/react-query';
import { ChevronRight, Folder } from 'lucide-react';
import { foldersQuery, rootFoldersQuery, rootsQuery, storesQuery } from '../api/queries.ts';
import type { Place } from '../api/places.ts';
import { plural, sayBytes } from './format.ts';
import { Loading, ProblemLine, problemOf } from './pieces.tsx';

interface FolderChooserProps {
  place: Place;
  onChoose: (place: Place) => void;
  /** The stores that may be chosen from: all, all with the card bay, or none. */
  stores?: 'all' | 'with the bay' | 'none';
  /** Whether drives and folders of this machine that are no stores yet are offered too. */
  machine?: 'all' | 'to write' | 'none';
  /** What is said of a folder that is not there, where that is no trouble. */
  missing?: string;
}

/** A store or a root that folders are walked through from. */
interface Source {
  key: string;
  name: string;
  note: string;
  place: Place;
}

const rootNames = { card: 'card', drive: 'drive', folder: 'folder' } as const;

function ofStore({ id, name, freeBytes, readOnly }: StoreAnswer): Source {
  const note = freeBytes === null ? 'not there' : readOnly ? 'only read from' : `${sayBytes(freeBytes)} free`;
  return { key: `store ${id}`, name, note, place: { store: id, folder: '' } };
}

function ofRoot({ path, name, kind, totalBytes }: RootAnswer): Source {
  const note = kind === 'folder' || totalBytes === null ? path : `${rootNames[kind]}, ${sayBytes(totalBytes)}`;
  return { key: `root ${path}`, name, note, place: { store: '', folder: '', root: path } };
}

function keyOf(place: Place): string {
  return place.root === undefined ? `store ${place.store}` : `root ${place.root}`;
}

function useSources(
  stores: NonNullable<FolderChooserProps['stores']>,
  machine: NonNullable<FolderChooserProps['machine']>,
): Source[] {
  const { data: all = [] } = useQuery(storesQuery);
  const { data: roots = [] } = useQuery({ ...rootsQuery, enabled: machine !== 'none' });
  const offered = roots.filter((root) => machine === 'all' || (root.kind !== 'card' && !root.readOnly));
  // A card that was taken out again is no place to look for anything.
  const shown = all.filter(
    (store) => (stores === 'with the bay' || !store.bay) && !(store.readOnly && store.freeBytes === null),
  );
  return [
    ...(stores === 'none' ? [] : shown.map(ofStore)),
    ...(machine === 'none' ? [] : offered.filter((root) => stores === 'none' || root.store === null).map(ofRoot)),
  ];
}

/**
 * Walks through the folders of stores and of this machine; what is open is what is chosen. It is as high before it has
 * read a folder as after, whatever lies in it: what stands below keeps its place under a hand that is about to press.
 */
export function FolderChooser({ place, onChoose, stores = 'all', machine = 'none', missing }: FolderChooserProps) {
  const sources = useSources(stores, machine);
  const inRoot = place.root !== undefined;
  const ofAStore = useQuery({ ...foldersQuery(place.store, place.folder), enabled: !inRoot && place.store !== '' });
  const ofARoot = useQuery({ ...rootFoldersQuery(place.root ?? '', place.folder), enabled: inRoot });
  const { data, error } = inRoot ? ofARoot : ofAStore;
  const names = place.folder === '' ? [] : place.folder.split('/');
  const current = sources.find((source) => source.key === keyOf(place));
  return (
    <div className="grid h-80 grid-cols-[min(13rem,40%)_1fr] grid-rows-1 rounded-lg border border-line">
      <ul aria-label="Stores" className="overflow-auto border-r border-line p-2">
        {sources.map((source) => (
          <li key={source.key}>
            <button
              type="button"
              aria-pressed={source === current}
              onClick={() => onChoose(source.place)}
              className={`w-full rounded-md px-3 py-2 text-left ${source === current ? 'bg-raised' : 'hover:bg-raised/60'}`}
            >
              <span className="block truncate font-semibold">{source.name}</span>
              <span className="block truncate font-mono text-[11px] text-faint" title={source.note}>
                {source.note}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <div className="flex min-h-0 min-w-0 flex-col overflow-auto p-3">
        <nav aria-label="Path" className="flex flex-wrap items-center gap-1 px-1 pb-2 font-mono text-dim">
          <button
            type="button"
            className="rounded px-1 hover:text-ink"
            onClick={() => onChoose({ ...place, folder: '' })}
          >
            {current?.name ?? '…'}
          </button>
          {names.map((name, index) => (
            <span key={`${index}${name}`} className="flex min-w-0 items-center gap-1">
              <ChevronRight className="size-3 shrink-0 text-faint" aria-hidden />
              <button
                type="button"
                className="rounded px-1 text-left break-all hover:text-ink"
                onClick={() => onChoose({ ...place, folder: names.slice(0, index + 1).join('/') })}
              >
                {name}
              </button>
            </span>
          ))}
        </nav>
        {error &&
          (missing !== undefined && problemOf(error).kind === 'no such folder' ? (
            <p className="px-2 text-dim">{missing}</p>
          ) : (
            <div className="px-2">
              <ProblemLine problem={problemOf(error)} />
            </div>
          ))}
        {!data && !error && current && <Loading what="The folders" rows={3} />}
        <ul className="min-h-16 overflow-auto">
          {data?.folders.map((name) => (
            <li key={name}>
              <button
                type="button"
                title={name}
                onClick={() => onChoose({ ...place, folder: [...names, name].join('/') })}
                className="flex w-full items-center gap-2.5 rounded-md px-2 py-1.5 text-left hover:bg-raised"
              >
                <Folder className="size-4 shrink-0 text-faint" aria-hidden />
                <span className="truncate">{name}</span>
              </button>
            </li>
          ))}
        </ul>
        {data && (
          <p className="mt-auto px-2 pt-2 text-faint">
            {data.folders.length === 0 && data.files === 0
              ? 'This folder is empty'
              : `${plural(data.folders.length, 'folder')} and ${plural(data.files, 'file')} here`}
          </p>
        )}
      </div>
    </div>
  );
}
