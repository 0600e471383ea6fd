import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { handedQuery, handoffsQuery, holdingsQuery } from '../api/queries.ts';
import { CutList } from '../cuts/list.tsx';
import { docketWidth } from '../ui/docketWidth.ts';
import { blocks, Button, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { HandedList } from './handedList.tsx';
import { HoldingsTable } from './holdings.tsx';
import { MadeList } from './madeList.tsx';
import { NewHandoff } from './newHandoff.tsx';

/** What left the building and to whom, what can go, and the cuts that came back. */
export function HandoffsPage() {
  const { production = '' } = useParams();
  const go = useNavigate();
  const [asked, say] = useAddress();
  const made = useQuery(handoffsQuery(production));
  const handed = useQuery(handedQuery(production));
  const { data: holdings } = useQuery(holdingsQuery(production));
  const open = asked.get('do') === 'new';
  const begin = (run?: string): void => say({ do: 'new', run: run ?? null });
  const close = (): void => say({ do: null, run: null });
  const error = made.error ?? handed.error;
  if (error && blocks(error, made.data && handed.data))
    return (
      <ProblemNote problem={problemOf(error)} again={() => void Promise.all([made.refetch(), handed.refetch()])} />
    );
  if (!made.data || !handed.data)
    return (
      <div className="flex-1">
        <Loading what="The hand-offs" rows={3} />
      </div>
    );
  const run = asked.get('run');
  return (
    <div className="flex min-h-0 min-w-0 flex-1">
      <div className="min-w-0 flex-1 overflow-auto">
        <div className="mx-auto flex max-w-5xl flex-col gap-8 px-6 py-6">
          <section aria-label="Handed off">
            <div className="mb-3 flex items-center gap-3">
              <h2 className="text-lg font-semibold">Hand-offs</h2>
              <Link to={`/p/${production}/handoffs/space`} className="text-dim underline underline-offset-4">
                Space
              </Link>
              <Button main className="ml-auto" disabled={made.data.length === 0} onClick={() => begin()}>
                Hand off…
              </Button>
            </div>
            <HandedList production={production} lines={handed.data} />
          </section>
          {holdings && <HoldingsTable holdings={holdings} />}
          <MadeList production={production} lines={made.data} onHandOff={begin} />
          <CutList production={production} />
        </div>
      </div>
      {open && (
        <aside
          aria-label="Hand off"
          className={`${docketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          <NewHandoff
            key={run ?? ''}
            production={production}
            runs={run === null ? [] : [run]}
            onClose={close}
            onBegun={(id) => void go(`/p/${production}/handoffs/${id}`)}
          />
        </aside>
      )}
    </div>
  );
}
