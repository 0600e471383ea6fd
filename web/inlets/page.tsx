import type { InletAnswer, InletDefinition, InletLine } from '@relay/contract/inlets';
import { inletRows } from '@relay/contract/routes/inlets';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import { inletQuery, inletsQuery, productionQuery, recipesQuery, storesQuery } from '../api/queries.ts';
import { wideDocketWidth } from '../ui/docketWidth.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Button, Empty, Key, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { rowLook } from '../ui/rowLook.ts';
import { useAddress } from '../ui/useAddress.ts';
import { InletDocket } from './inletDocket.tsx';
import { proposedInlet, sayInlet, stateOf } from './inletDraft.ts';
import { InletForm } from './inletForm.tsx';

/** An inlet in the list: its state, its name and what it does, and what it came to. */
const inletRow =
  'grid w-full grid-cols-[8.5rem_minmax(0,1fr)_12rem] items-center gap-4 border-b border-line px-2 py-2.5 text-left max-lg:grid-cols-[8.5rem_minmax(0,1fr)]';

type Editing = { kind: 'new' } | { kind: 'change'; id: string } | null;

/** Places of a production where what arrives is made by itself. */
export function InletsPage() {
  const { production = '' } = useParams();
  const client = useQueryClient();
  const [address, setAddress] = useAddress();
  const [editing, setEditing] = useState<Editing>(null);
  const { data, error, refetch } = useQuery(inletsQuery(production));
  const chosen = address.get('inlet');
  const choose = (id: string | null): void => {
    setEditing(null);
    setAddress({ inlet: id });
  };
  const pause = useMutation({
    mutationFn: ({ id, paused }: { id: string; paused: boolean }) =>
      ask(inletRows.pause, { inlet: id, body: { paused } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['inlets'] }),
    onError: toastProblem,
  });
  const order = data?.map(({ id }) => id) ?? [];
  const move = (by: number) => (): void => {
    const next = order[Math.min(order.length - 1, Math.max(0, (chosen === null ? -1 : order.indexOf(chosen)) + by))];
    if (next) choose(next);
  };
  const line = data?.find(({ id }) => id === chosen);
  useKeys({
    ArrowDown: move(1),
    ArrowUp: move(-1),
    i: () => setEditing({ kind: 'new' }),
    e: () => {
      if (line) setEditing({ kind: 'change', id: line.id });
    },
    ' ': () => {
      if (line) pause.mutate({ id: line.id, paused: !line.paused });
    },
    Escape: () => (editing ? setEditing(null) : choose(null)),
  });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  return (
    <>
      <div className="min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mb-5 flex items-center gap-3">
          <h2 className="text-lg font-semibold">Inlets</h2>
          <Link to={`/p/${production}/arrivals`} className="text-dim underline underline-offset-4">
            Cards and rolls
          </Link>
          <Button main={editing === null} className="ml-auto" onClick={() => setEditing({ kind: 'new' })}>
            New inlet… <Key {...(editing === null ? { on: 'clay' as const } : {})}>I</Key>
          </Button>
        </div>
        <InletList lines={data} chosen={chosen} onChoose={choose} />
      </div>
      {(editing !== null || line) && (
        <aside
          aria-label="Docket"
          className={`${wideDocketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          {editing !== null && !data ? (
            <Loading what="The inlet" rows={5} />
          ) : editing !== null ? (
            <Edit
              key={editing.kind === 'new' ? 'new' : editing.id}
              production={production}
              editing={editing}
              others={data?.map(({ definition }) => definition) ?? []}
              onDone={choose}
              onClose={() => setEditing(null)}
            />
          ) : (
            line && (
              <InletDocket
                production={production}
                id={line.id}
                onChange={() => setEditing({ kind: 'change', id: line.id })}
                onPause={(paused) => pause.mutate({ id: line.id, paused })}
                onRemoved={() => choose(null)}
              />
            )
          )}
        </aside>
      )}
    </>
  );
}

interface InletListProps {
  lines: readonly InletLine[] | undefined;
  chosen: string | null;
  onChoose: (id: string) => void;
}

function InletList({ lines, chosen, onChoose }: InletListProps) {
  if (!lines) return <Loading what="The inlets" rows={3} />;
  if (lines.length === 0)
    return (
      <Empty title="No inlet yet">
        <p>
          An inlet stands at a folder. What is dropped into it is left alone until it is whole; then it is read, made by
          a recipe and proved, without a further hand. What cannot be used stays where it is, and is named here.
        </p>
      </Empty>
    );
  return (
    <ul aria-label="Inlets" className="border-t border-line">
      {lines.map((line) => (
        <InletRow key={line.id} line={line} chosen={line.id === chosen} onChoose={() => onChoose(line.id)} />
      ))}
    </ul>
  );
}

const stateLooks = {
  off: 'border border-faint',
  trouble: 'rounded-none rotate-45 bg-amber',
  work: 'bg-sky',
  quiet: 'border-2 border-teal',
} as const;

function InletRow({ line, chosen, onChoose }: { line: InletLine; chosen: boolean; onChoose: () => void }) {
  const { data: recipes = [] } = useQuery(recipesQuery);
  const { data: stores = [] } = useQuery(storesQuery);
  const { word, look } = stateOf(line);
  return (
    <li>
      <button
        type="button"
        aria-pressed={chosen}
        onClick={onChoose}
        className={`${inletRow} ${rowLook({ chosen, at: chosen })}`}
      >
        <span className="flex items-center gap-2">
          <span aria-hidden className={`size-2.5 shrink-0 rounded-full ${stateLooks[look]}`} />
          <span className={look === 'trouble' ? 'text-amber' : look === 'off' ? 'text-dim' : ''}>{word}</span>
        </span>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{line.definition.name}</span>
          <span className="line-clamp-2 break-words text-dim">{sayInlet(line.definition, { recipes, stores })}</span>
        </span>
        <span className="flex justify-end gap-4 text-dim max-lg:col-start-2 max-lg:justify-start">
          <span>
            <span className="font-mono text-ink">{line.madeToday}</span> made today
          </span>
          <span className={line.left > 0 ? 'text-amber' : ''}>
            <span className="font-mono">{line.left}</span> left
          </span>
        </span>
      </button>
    </li>
  );
}

interface EditProps {
  production: string;
  editing: NonNullable<Editing>;
  others: readonly InletDefinition[];
  onDone: (id: string) => void;
  onClose: () => void;
}

/** The form for a new inlet, or for one that is changed. */
function Edit({ production, editing, others, onDone, onClose }: EditProps) {
  const client = useQueryClient();
  const { data: home } = useQuery(productionQuery(production));
  const { data: recipes } = useQuery(recipesQuery);
  const { data: stores } = useQuery(storesQuery);
  const id = editing.kind === 'change' ? editing.id : null;
  const { data: before } = useQuery({ ...inletQuery(id ?? ''), enabled: id !== null });
  // What was proposed when it was opened stays, whatever is made meanwhile.
  const [taken] = useState(others);
  const proposed = useMemo(
    () => (home && recipes && stores ? proposedInlet(home.name, recipes, stores, taken) : null),
    [home, recipes, stores, taken],
  );
  const save = useMutation({
    mutationFn: (definition: InletDefinition): Promise<InletAnswer> =>
      id === null
        ? ask(inletRows.add, { production, body: definition })
        : ask(inletRows.change, { inlet: id, body: { seen: before?.version ?? 0, definition } }),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: ['inlets'] });
      onDone(made.id);
    },
    onError: toastProblem,
  });
  const saved = id === null ? proposed : before?.definition;
  if (!saved) return <Loading what="The inlet" rows={5} />;
  return (
    <InletForm
      production={production}
      title={id === null ? 'A new inlet' : `Change ${saved.name}`}
      action={id === null ? 'Make the inlet' : 'Save'}
      saved={saved}
      busy={save.isPending}
      onSend={(said) => save.mutate(said)}
      onClose={onClose}
    />
  );
}
