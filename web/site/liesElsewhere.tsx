import { siteRows } from '@relay/contract/routes/site';
import type { StoreAnswer } from '@relay/contract/site';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import type { Place } from '../api/places.ts';
import { rootsQuery } from '../api/queries.ts';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { Button, toastProblem } from '../ui/pieces.tsx';
import { sayUndoable } from '../ui/undo.ts';

/** Everything that shows where something of a store lies. */
const stale = ['site', 'stores', 'roots', 'folders', 'originals'] as const;

/** A store that is away may lie elsewhere now: a volume that was renamed, or all of it on another drive. */
export function LiesElsewhere({ store }: { store: StoreAnswer }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const refresh = (): Promise<unknown> =>
    Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] })));
  const back = useMutation({
    mutationFn: () => ask(siteRows.moveStoreBack, { store: store.id }),
    onSuccess: refresh,
    onError: toastProblem,
  });
  if (open)
    return (
      <ChooseFolder
        store={store}
        onClose={() => setOpen(false)}
        onMoved={async () => {
          setOpen(false);
          await refresh();
          sayUndoable(`${store.name} is known at its new place`, async () => {
            await ask(siteRows.moveStoreBack, { store: store.id });
            await refresh();
          });
        }}
      />
    );
  if (store.freeBytes === null)
    return (
      <Button className="mt-2" onClick={() => setOpen(true)}>
        It lies elsewhere now…
      </Button>
    );
  if (store.before === null) return null;
  return (
    <span className="mt-1 flex flex-wrap items-center gap-2 text-dim">
      <span className="min-w-0">
        before at <span className="font-mono text-[11px] break-all">{store.before}</span>
      </span>
      <Button disabled={back.isPending} onClick={() => back.mutate()}>
        There again
      </Button>
    </span>
  );
}

interface ChooseFolderProps {
  store: StoreAnswer;
  onMoved: () => Promise<void>;
  onClose: () => void;
}

function ChooseFolder({ store, onMoved, onClose }: ChooseFolderProps) {
  const { data: roots = [] } = useQuery(rootsQuery);
  const [chosen, setPlace] = useState<Place | null>(null);
  const [first] = roots;
  const place = chosen ?? (first ? { store: '', folder: '', root: first.path } : null);
  const move = useMutation({
    mutationFn: () =>
      ask(siteRows.moveStore, { store: store.id, body: { root: place?.root ?? '', folder: place?.folder ?? '' } }),
    onSuccess: onMoved,
    onError: toastProblem,
  });
  if (!place)
    return (
      <p className="mt-2 text-dim">
        No folder of this machine may be looked into from the page. Start with{' '}
        <code className="font-mono">--root PATH</code>.
      </p>
    );
  return (
    <div className="mt-2 flex flex-col gap-2">
      <p className="text-dim">The folder that carries its mark: everything known of the store is known there then.</p>
      <FolderChooser stores="none" machine="all" place={place} onChoose={setPlace} />
      <span className="flex gap-2">
        <Button main disabled={move.isPending} onClick={() => move.mutate()}>
          It is here
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </span>
    </div>
  );
}
