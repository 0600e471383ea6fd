import type { ChecksAnswer } from '@relay/contract/checks';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { checksQuery } from '../api/queries.ts';
import { ListTable, type ListColumn } from '../ui/listTable.tsx';
import { blocks, Bytes, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { StateMark } from '../ui/stateMark.tsx';

/** How a line stands for whoever checks: what was sent back and what needs eyes comes first. */
const shown = ['sent back', 'needs eyes', 'failed', 'stopped', 'accepted', 'proved'] as const;
type Standing = (typeof shown)[number];

type Line = ChecksAnswer['outputs'][number];

function standingOf({ state, look }: Line): Standing {
  if (look) return look.verdict;
  return shown.find((one) => one === state) ?? 'stopped';
}

/** Where a line leads: what was made to its comparison, what was not to its run. */
function leadsTo(production: string, { id, state, runId }: Line): string {
  return state === 'proved' || state === 'needs eyes'
    ? `/p/${production}/checks/${id}`
    : `/p/${production}/runs/${runId}`;
}

function columnsOf(production: string): ListColumn<Line>[] {
  return [
    {
      id: 'state',
      name: 'State',
      of: (line) => shown.indexOf(standingOf(line)),
      show: (line) => <Stands as={standingOf(line)} />,
      track: '7rem',
    },
    {
      id: 'clip',
      name: 'Clip',
      of: ({ stem }) => stem,
      // The whole row is pressed by it.
      show: (line) => (
        <Link to={leadsTo(production, line)} className="font-semibold after:absolute after:inset-0">
          {line.stem}
        </Link>
      ),
      track: 'minmax(8rem, 14rem)',
    },
    {
      id: 'deliverable',
      name: 'Deliverable',
      of: ({ deliverable }) => deliverable,
      show: ({ deliverable }) => <span className="text-dim">{deliverable}</span>,
      track: '8rem',
    },
    {
      id: 'path',
      name: 'Where, or why not',
      of: ({ problem, path }) => problem?.what ?? path,
      show: ({ problem, path, look }) =>
        look && look.note !== '' ? (
          <span className="text-dim">{look.note}</span>
        ) : problem ? (
          <span className="text-dim">{problem.what}</span>
        ) : (
          <span className="font-mono text-dim">{path}</span>
        ),
      track: 'minmax(11rem, 1fr)',
    },
    {
      id: 'size',
      name: 'Size',
      of: ({ sizeBytes }) => sizeBytes,
      show: ({ sizeBytes }) => sizeBytes > 0 && <Bytes value={sizeBytes} />,
      track: '6rem',
      right: true,
    },
  ];
}

/** What somebody said is marked as what they would have found: good, or to be made again. */
function Stands({ as }: { as: Standing }) {
  if (as !== 'accepted' && as !== 'sent back') return <StateMark state={as} />;
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <StateMark state={as === 'accepted' ? 'proved' : 'failed'} word={false} />
      <span>{as}</span>
    </span>
  );
}

/** Everything that was made, what needs a person first. */
export function ChecksPage() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(checksQuery(production));
  const [state, setState] = useState<Standing | null>(null);
  const columns = useMemo(() => columnsOf(production), [production]);
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The outputs" />
      </div>
    );
  if (data.total === 0)
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing to check yet">
          <p>Outputs stand here as soon as a run has made them, each with its proof, beside its original.</p>
        </Empty>
      </div>
    );
  const outputs = data.outputs.filter((output) => state === null || standingOf(output) === state);
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div role="group" aria-label="Show" className="flex gap-1 border-b border-line px-5 py-2">
        <Choice on={state === null} onClick={() => setState(null)}>
          All {data.total}
        </Choice>
        {shown.map((one) => {
          const count = data.outputs.filter((output) => standingOf(output) === one).length;
          return count > 0 ? (
            <Choice key={one} on={state === one} onClick={() => setState(one)}>
              <Stands as={one} /> {count}
            </Choice>
          ) : null;
        })}
      </div>
      <ListTable label="Outputs" lines={outputs} idOf={({ id }) => id} columns={columns} className="flex-1" />
    </div>
  );
}

function Choice({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`flex h-8 items-center gap-2 rounded-md px-3 ${on ? 'bg-raised text-ink' : 'text-dim hover:text-ink'}`}
    >
      {children}
    </button>
  );
}
