import { useQuery } from '@tanstack/react-query';
import { ChevronRight, Folder } from 'lucide-react';
import { foldersQuery, storesQuery } from '../api/queries.ts';
import { plural, sayBytes } from './format.ts';
import { Loading, ProblemNote, problemOf } from './pieces.tsx';

export interface Place {
  store: string;
  folder: string;
}

/** Walks through the folders of the allowed stores; what is open is what is chosen. */
export function FolderChooser({
  place,
  onChoose,
  withBay = false,
}: {
  place: Place;
  onChoose: (place: Place) => void;
  withBay?: boolean;
}) {
  const { data: all } = useQuery(storesQuery);
  const stores = all?.filter((store) => withBay || !store.bay);
  const { data, error } = useQuery(foldersQuery(place.store, place.folder));
  const names = place.folder === '' ? [] : place.folder.split('/');
  const current = stores?.find((store) => store.id === place.store);
  return (
    <div className="grid min-h-64 grid-cols-[13rem_1fr] rounded-lg border border-line">
      <ul aria-label="Stores" className="border-r border-line p-2">
        {stores?.map((store) => (
          <li key={store.id}>
            <button
              type="button"
              aria-pressed={store.id === place.store}
              onClick={() => onChoose({ store: store.id, folder: '' })}
              className={`w-full rounded-md px-3 py-2 text-left ${store.id === place.store ? 'bg-raised' : 'hover:bg-raised/60'}`}
            >
              <span className="block font-semibold">{store.name}</span>
              <span className="block font-mono text-[11px] text-faint">
                {store.freeBytes === null ? 'not there' : `${sayBytes(store.freeBytes)} free`}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <div className="flex min-w-0 flex-col p-3">
        <nav aria-label="Path" className="flex flex-wrap items-center gap-1 px-1 pb-2 font-mono text-dim">
          <button
            type="button"
            className="rounded px-1 hover:text-ink"
            onClick={() => onChoose({ ...place, folder: '' })}
          >
            {current?.name ?? '…'}
          </button>
          {names.map((name, index) => (
            <span key={`${index}${name}`} className="flex items-center gap-1">
              <ChevronRight className="size-3 text-faint" aria-hidden />
              <button
                type="button"
                className="rounded px-1 hover:text-ink"
                onClick={() => onChoose({ ...place, folder: names.slice(0, index + 1).join('/') })}
              >
                {name}
              </button>
            </span>
          ))}
        </nav>
        {error && <ProblemNote problem={problemOf(error)} />}
        {!data && !error && place.store !== '' && <Loading what="The folders" rows={3} />}
        <ul className="max-h-72 overflow-auto">
          {data?.folders.map((name) => (
            <li key={name}>
              <button
                type="button"
                onClick={() => onChoose({ ...place, folder: [...names, name].join('/') })}
                className="flex w-full items-center gap-2.5 rounded-md px-2 py-1.5 text-left hover:bg-raised"
              >
                <Folder className="size-4 text-faint" aria-hidden />
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
