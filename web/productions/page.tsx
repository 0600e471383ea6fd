import { arrivalRows } from '@relay/contract/routes/arrivals';
import { siteRows } from '@relay/contract/routes/site';
import type { ProductionAnswer } from '@relay/contract/site';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { productionsQuery, storesQuery } from '../api/queries.ts';
import { AddFolder } from '../ui/addFolder.tsx';
import { plural } from '../ui/format.ts';
import { blocks, Button, Empty, inputLook, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import { StateMark } from '../ui/stateMark.tsx';

/** Where a production stands, in a line. */
function Standing({ counts }: { counts: ProductionAnswer['counts'] }) {
  if (counts.legsOpen > 0)
    return (
      <span className="flex items-center gap-1.5 text-sky">
        <StateMark state="running" word={false} />
        {plural(counts.legsOpen, 'leg')} to go
      </span>
    );
  if (counts.needEyes > 0)
    return (
      <span className="flex items-center gap-1.5">
        <StateMark state="needs eyes" word={false} />
        {plural(counts.needEyes, 'output')} to look at
      </span>
    );
  if (counts.outputs > 0)
    return (
      <span className="flex items-center gap-1.5">
        <StateMark state="proved" word={false} />
        {plural(counts.outputs, 'output')}, all looked at
      </span>
    );
  if (counts.clips > 0) return <span>Read, nothing run yet</span>;
  return <span>Empty</span>;
}

export function ProductionsPage() {
  const { data, error, refetch } = useQuery(productionsQuery);
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data) return <Loading what="The productions" rows={4} />;
  if (data.length === 0) {
    return (
      <div className="px-6">
        <Empty title="Begin with a production">
          <p>
            A production is one show or film. It holds the clips that arrive, what is made from them, and the proof that
            each output is what was planned.
          </p>
          <FirstFootage />
          <NewProduction first />
        </Empty>
      </div>
    );
  }
  return (
    <div className="mx-auto w-full max-w-4xl px-6 py-8">
      <h2 className="text-lg font-semibold">Productions</h2>
      <ul className="mt-4 border-t border-line">
        {data.map((one) => (
          <li key={one.id} className="flex items-center gap-4 border-b border-line pr-2">
            <Link
              to={`/p/${one.id}/clips`}
              className="grid min-w-0 flex-1 grid-cols-[1fr_auto_auto_14rem] items-center gap-8 px-2 py-3 hover:bg-raised"
            >
              <span className="truncate font-semibold">{one.name}</span>
              <span className="font-mono text-dim">{plural(one.counts.rolls, 'roll')}</span>
              <span className="font-mono text-dim">{plural(one.counts.clips, 'clip')}</span>
              <span className="text-dim">
                <Standing counts={one.counts} />
              </span>
            </Link>
            <Remove
              what={one.name}
              says="Its clips, corrections, runs and proofs are known no more."
              remove={() => ask(siteRows.removeProduction, { production: one.id })}
              className="h-7 px-2.5"
            />
          </li>
        ))}
      </ul>
      <div className="mt-8">
        <NewProduction />
      </div>
    </div>
  );
}

/** The shortest way from footage to its clips: a folder, and a production that is called as it is. */
function FirstFootage() {
  const [open, setOpen] = useState(false);
  const go = useNavigate();
  const client = useQueryClient();
  const begin = async ({ store, folder }: { store: string; folder: string }): Promise<void> => {
    const { name: storeName } = (await client.fetchQuery(storesQuery)).find((one) => one.id === store) ?? {
      name: store,
    };
    const made = await ask(siteRows.addProduction, { body: { name: folder.split('/').at(-1) || storeName } });
    await ask(arrivalRows.read, { production: made.id, body: { store, folder } });
    await client.invalidateQueries({ queryKey: ['productions'] });
    void go(`/p/${made.id}/clips`);
  };
  return (
    <div className="mt-4">
      {open ? (
        <div className="w-[min(48rem,90vw)]">
          <AddFolder
            use="read"
            action="Read this folder"
            says="A production of its name begins. Every file below it is described; nothing in it is changed."
            onAdd={begin}
            onClose={() => setOpen(false)}
          />
        </div>
      ) : (
        <Button main onClick={() => setOpen(true)}>
          Open a folder of footage…
        </Button>
      )}
    </div>
  );
}

function NewProduction({ first = false }: { first?: boolean }) {
  const [name, setName] = useState('');
  const go = useNavigate();
  const client = useQueryClient();
  const begin = useMutation({
    mutationFn: () => ask(siteRows.addProduction, { body: { name } }),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: ['productions'] });
      void go(`/p/${made.id}/arrivals`);
    },
    onError: toastProblem,
  });
  return (
    <form
      className="mt-4 flex max-w-md items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) begin.mutate();
      }}
    >
      <label className="flex-1">
        <span className="mb-1 block text-dim">{first ? 'Or an empty one, by its name' : 'Another production'}</span>
        <input className={inputLook} value={name} onChange={(event) => setName(event.target.value)} maxLength={120} />
      </label>
      <Button type="submit" disabled={name.trim() === '' || begin.isPending}>
        Begin
      </Button>
    </form>
  );
}
