import { arrivalRows } from '@relay/contract/routes/arrivals';
import type { LeftAsideLine, ReadingAnswer } from '@relay/contract/arrivals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask } from '../api/client.ts';
import { settled, type Place } from '../api/places.ts';
import { leftAsideQuery, productionQuery, readingsQuery, rootsQuery, storesQuery } from '../api/queries.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { plural, sayClock } from '../ui/format.ts';
import { ListTable, type ListColumn } from '../ui/listTable.tsx';
import { Button, Bytes, toastProblem } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import { StateMark } from '../ui/stateMark.tsx';

const kinds = {
  'not-media': 'No clip',
  broken: 'Broken',
  'not-decodable': 'Cannot be decoded here',
  unreadable: 'Cannot be read',
  sidecar: 'Sidecar',
  chapter: 'Part of a clip',
} as const;

interface ReadInPlaceProps {
  production: string;
  /** The folder that is chosen while its chooser is open; null while it is not. */
  wanted: Place | null;
  onWanted: (place: Place | null) => void;
}

/** Folders of originals that are safe already: read where they lie, nothing written to them. */
export function ReadInPlace({ production, wanted, onWanted }: ReadInPlaceProps) {
  const client = useQueryClient();
  const { data: allStores } = useQuery(storesQuery);
  const stores = allStores?.filter((store) => !store.bay);
  const { data: readings = [] } = useQuery(readingsQuery(production));
  const { data: roots } = useQuery(rootsQuery);
  const { data: home } = useQuery(productionQuery(production));
  const ranBefore = (home?.counts.runs ?? 0) > 0;
  const [first] = stores ?? [];
  const begin: Place = first
    ? { store: first.id, folder: '' }
    : // Folders of the machine only where it is known that there is no store.
      { store: '', folder: '', ...(allStores && roots?.[0] ? { root: roots[0].path } : {}) };
  // Opened before the stores were known, it begins with the first as soon as they are.
  const place = wanted && isNothing(wanted) ? begin : wanted;
  const read = useMutation({
    mutationFn: async (place: Place) => ask(arrivalRows.read, { production, body: await settled(place, 'read') }),
    onSuccess: (made) => {
      onWanted(null);
      client.setQueryData<ReadingAnswer[]>(['readings', production], (all = []) => [
        made,
        ...all.filter((one) => one.store !== made.store || one.folder !== made.folder),
      ]);
    },
    onError: toastProblem,
  });
  return (
    <section aria-labelledby="read-title">
      <div className="mb-2 flex items-center gap-3">
        <h3 id="read-title" className="font-semibold text-dim">
          Folders read where they lie
        </h3>
        <Button
          className="ml-auto"
          aria-expanded={wanted !== null}
          onClick={() => onWanted(wanted === null ? begin : null)}
        >
          Add a folder…
        </Button>
      </div>
      {place && (
        <div className="mb-4">
          <FolderChooser machine="all" place={place} onChoose={onWanted} />
          <div className="mt-3 flex items-center gap-3">
            <p className="text-dim">Every file below it is described; nothing in it is changed.</p>
            <Button
              className="ml-auto"
              main
              onClick={() => read.mutate(place)}
              disabled={isNothing(place) || read.isPending}
            >
              Read this folder
            </Button>
          </div>
        </div>
      )}
      {readings.length > 0 && (
        <ul className="border-t border-line">
          {readings.slice(0, 30).map((one) => (
            <Reading
              key={one.id}
              one={one}
              store={stores?.find((store) => store.id === one.store)?.name ?? one.store}
              production={production}
              ranBefore={ranBefore}
              onAgain={() => read.mutate({ store: one.store, folder: one.folder })}
            />
          ))}
        </ul>
      )}
    </section>
  );
}

/** Whether nothing is chosen: no store, and no root of the machine. */
function isNothing({ store, root }: Place): boolean {
  return store === '' && root === undefined;
}

const asideColumns: ListColumn<LeftAsideLine>[] = [
  {
    id: 'file',
    name: 'File',
    of: ({ refusal }) => refusal.path,
    show: ({ refusal }) => <span className="font-mono break-all">{refusal.path}</span>,
    track: 'minmax(8rem, 1fr)',
  },
  {
    id: 'kind',
    name: 'What it is',
    of: ({ refusal }) => kinds[refusal.problem.kind],
    show: ({ refusal }) => (
      <>
        <LevelShape level="stop" className="mr-2" />
        {kinds[refusal.problem.kind]}
      </>
    ),
    track: '9rem',
  },
  {
    id: 'why',
    name: 'Why, and what to do',
    of: ({ refusal }) => refusal.problem.what,
    show: ({ refusal: { path, problem } }) => (
      <>
        {problem.what.replace(`${path} `, 'It ')}. <span className="text-dim">{problem.remedy}.</span>
      </>
    ),
    track: 'minmax(11rem, 2fr)',
  },
  {
    id: 'size',
    name: 'Size',
    of: ({ refusal }) => refusal.sizeBytes,
    show: ({ refusal }) => <Bytes value={refusal.sizeBytes} />,
    track: '5rem',
    right: true,
  },
];

/** What was read but is no clip, with the reason and what to do. */
export function LeftAside({ production }: { production: string }) {
  const { data: aside = [] } = useQuery(leftAsideQuery(production));
  const sidecars = aside.filter((line) => line.refusal.problem.kind === 'sidecar').length;
  const refused = aside.filter((line) => line.refusal.problem.kind !== 'sidecar');
  return (
    <>
      {refused.length > 0 && (
        <section aria-labelledby="aside-title">
          <h3 id="aside-title" className="mb-2 font-semibold text-dim">
            Left aside
          </h3>
          <ListTable
            label="Left aside"
            lines={refused}
            idOf={({ id }) => id}
            columns={asideColumns}
            className="max-h-96 border-t border-line"
          />
        </section>
      )}
      {sidecars > 0 && (
        <p className="text-dim">
          {plural(sidecars, 'sidecar file lies', 'sidecar files lie')} beside the clips and stay there.
        </p>
      )}
    </>
  );
}

/** What a reading came to: all files of a folder, or what was new in it. */
function sayRead({ again, total }: ReadingAnswer): string {
  if (!again) return plural(total, 'file');
  return total === 0 ? 'nothing new' : `${total} new`;
}

interface ReadingProps {
  one: ReadingAnswer;
  store: string;
  production: string;
  /** Whether anything of the production was run: then what is new can be. */
  ranBefore: boolean;
  onAgain: () => void;
}

function Reading({ one, store, production, ranBefore, onAgain }: ReadingProps) {
  const share = one.state === 'done' ? 1 : one.total > 0 ? one.done / one.total : 0;
  const state = one.state === 'done' ? 'proved' : one.state;
  return (
    <li className="grid grid-cols-[1fr_15rem_9rem_auto] items-center gap-6 border-b border-line py-2">
      <span className="min-w-0">
        <span className="block truncate font-mono">
          {store}/{one.folder}
        </span>
        {one.says && <span className="block text-amber">{one.says}</span>}
      </span>
      <span className="flex items-center gap-3">
        <StateMark state={state} word={false} />
        {one.state === 'failed' && one.problem ? (
          <span>
            {one.problem.what}. <span className="text-dim">{one.problem.remedy}.</span>
          </span>
        ) : (
          <>
            <span
              role="progressbar"
              aria-label={`Reading ${one.folder}`}
              aria-valuenow={Math.round(share * 100)}
              className="h-1.5 flex-1 overflow-hidden rounded-full bg-lane"
            >
              <span
                className={`block h-full rounded-full ${one.state === 'done' ? 'bg-teal' : 'bg-sky'}`}
                style={{ width: `${share * 100}%` }}
              />
            </span>
            <span className="w-24 text-right font-mono text-dim">
              {one.state === 'done' ? sayRead(one) : one.state === 'waiting' ? 'waits' : `${one.done} of ${one.total}`}
            </span>
          </>
        )}
      </span>
      <span className="text-right text-dim">
        {one.state === 'done' ? (
          <Link
            className="text-ink underline underline-offset-4"
            to={`/p/${production}/clips`}
            state={ranBefore && one.total > 0 ? { runNew: true } : null}
          >
            {ranBefore && one.total > 0 ? 'Run what is new…' : 'See the clips'}
          </Link>
        ) : (
          sayClock(new Date(one.createdAt))
        )}
      </span>
      <span className="flex gap-2">
        <Button className="h-7 px-2.5" disabled={one.state === 'waiting' || one.state === 'running'} onClick={onAgain}>
          Read again
        </Button>
        <Remove
          what={one.folder || store}
          says="Its clips, and what was said of them, are known no more."
          remove={() => ask(arrivalRows.removeReading, { reading: one.id })}
          className="h-7 px-2.5"
        />
      </span>
    </li>
  );
}
