import { siteRows } from '@relay/contract/routes/site';
import type { StoreAnswer } from '@relay/contract/site';
import { memberSystems, systemNames, type MemberSystem } from '@relay/core/naming/systemPath';
import { useMutation, useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { AddFolder } from '../ui/addFolder.tsx';
import { sayBytes } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';
import { LiesElsewhere } from './liesElsewhere.tsx';

function refresh(client: QueryClient): Promise<unknown> {
  return Promise.all(['site', 'stores', 'roots'].map((key) => client.invalidateQueries({ queryKey: [key] })));
}

/** Stores: where they lie here and on members' machines, how full they are, and how more come on the list. */
export function StoresSection({ stores }: { stores: readonly StoreAnswer[] }) {
  return (
    <section aria-labelledby="stores">
      <h2 id="stores" className="font-semibold">
        Stores
      </h2>
      <p className="mt-1 text-dim">
        How members' machines write each store's path: outputs' places are copied in that form.
      </p>
      <NewStore />
      <ul className="mt-2 border-t border-line">
        {stores
          .filter((store) => !store.bay)
          .map((store) => (
            <StoreRow key={`${store.id} ${JSON.stringify(store.elsewhere)}`} store={store} />
          ))}
      </ul>
    </section>
  );
}

/** A folder of this machine, laid on the list of stores. */
function NewStore() {
  const [open, setOpen] = useState(false);
  const client = useQueryClient();
  return (
    <div className="mt-3">
      {open ? (
        <AddFolder
          action="Add this folder"
          says="Outputs and copies of cards may be made in it; a small file of ours tells it again."
          use="make"
          onAdd={async () => {
            setOpen(false);
            await refresh(client);
          }}
          onClose={() => setOpen(false)}
        />
      ) : (
        <Button onClick={() => setOpen(true)}>Add a folder…</Button>
      )}
    </div>
  );
}

function StoreRow({ store }: { store: StoreAnswer }) {
  const client = useQueryClient();
  const [paths, setPaths] = useState(store.elsewhere);
  const keep = useMutation({
    mutationFn: () => ask(siteRows.changeStore, { store: store.id, body: { elsewhere: paths } }),
    onSettled: () => void client.invalidateQueries({ queryKey: ['site'] }),
    onError: toastProblem,
  });
  const forget = useMutation({
    mutationFn: () => ask(siteRows.forgetStore, { store: store.id }),
    onSuccess: () => {
      toast(`${store.name} is off the list`, { description: 'Nothing on it was touched.' });
      return refresh(client);
    },
    onError: toastProblem,
  });
  const changed = memberSystems.some((system) => (paths[system] ?? '') !== (store.elsewhere[system] ?? ''));
  const examples: Readonly<Record<MemberSystem, string>> = {
    windows: `not said; such as S:\\${store.id}`,
    mac: `not said; such as /Volumes/${store.id}`,
    linux: `not said; such as /mnt/${store.id}`,
  };
  const left = store.freeBytes === null ? null : store.freeBytes - store.promisedBytes;
  return (
    <li className="grid grid-cols-[1fr_1.4fr] gap-6 border-b border-line px-2 py-3">
      <div className="min-w-0">
        <span className="font-semibold">{store.name}</span>
        {store.readOnly && <span className="ml-2 text-dim">only read from</span>}
        <span className="block font-mono text-[11px] break-all text-faint">{store.path}</span>
        {store.freeBytes === null ? (
          <span className="mt-1 flex items-center gap-1.5">
            <LevelShape level="stop" />
            Not there: see that it is mounted
          </span>
        ) : (
          <span className="mt-1 block text-dim">
            <span className="font-mono text-ink">{sayBytes(store.freeBytes)}</span> free
            {store.promisedBytes > 0 && left !== null && (
              <>
                , <span className={`font-mono ${left < 0 ? 'text-rose' : 'text-ink'}`}>{sayBytes(Math.abs(left))}</span>{' '}
                {left < 0 ? 'too little for what is queued' : 'once what is queued is made'}
              </>
            )}
          </span>
        )}
        <LiesElsewhere store={store} />
      </div>
      <form
        className="flex flex-col gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        {memberSystems.map((system) => (
          <label key={system} className="grid grid-cols-[4.5rem_1fr] items-center gap-2 text-dim">
            {systemNames[system]}
            <input
              aria-label={`${store.name} on ${systemNames[system]}`}
              value={paths[system] ?? ''}
              placeholder={examples[system]}
              spellCheck={false}
              onChange={(event) => setPaths({ ...paths, [system]: event.target.value })}
              className={`${inputLook} font-mono`}
            />
          </label>
        ))}
        <span className="flex justify-end gap-2">
          <Button disabled={forget.isPending} title="Its files stay as they are" onClick={() => forget.mutate()}>
            Off the list
          </Button>
          {changed && <Button type="submit">Keep</Button>}
        </span>
      </form>
    </li>
  );
}
