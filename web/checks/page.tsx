import type { ChecksAnswer } from '@relay/contract/checks';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { checksQuery } from '../api/queries.ts';
import { ListTable, type ListColumn } from '../ui/listTable.tsx';
import { blocks, Bytes, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { standingOf, type Standing } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';
import { ChecksHead, Choice } from './head.tsx';
import { sayMegabits, sayShare } from './sizeWords.ts';

/** What was sent back and what needs eyes comes first. */
const shown: readonly Standing[] = ['sent back', 'needs eyes', 'failed', 'stopped', 'accepted', 'proved'];

type Line = ChecksAnswer['outputs'][number];

/** Where a line leads: what was made to its comparison, what was not to its run. */
function leadsTo(production: string, { id, state, runId }: Line): string {
  return state === 'proved' || state === 'needs eyes'
    ? `/p/${production}/checks/${id}`
    : `/p/${production}/runs/${runId}`;
}

function shareOf({ sizeBytes, originalBytes }: Line): number {
  return sizeBytes / Math.max(1, originalBytes);
}

function saidShare({ sizeBytes, originalBytes }: Line): string {
  return sayShare({ originalBytes, outputBytes: sizeBytes });
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
        <Link to={leadsTo(production, line)} title={line.stem} className="font-semibold after:absolute after:inset-0">
          <TwoLines>{line.stem}</TwoLines>
        </Link>
      ),
      track: 'minmax(8rem, 14rem)',
    },
    {
      id: 'deliverable',
      name: 'Deliverable',
      of: ({ deliverable }) => deliverable,
      show: ({ deliverable }) => (
        <span className="text-dim" title={deliverable}>
          <TwoLines>{deliverable}</TwoLines>
        </span>
      ),
      track: '8rem',
    },
    {
      id: 'path',
      name: 'Where, or why not',
      of: ({ problem, path }) => problem?.what ?? path,
      show: ({ problem, path, look }) =>
        look && look.note !== '' ? (
          <span className="text-dim" title={look.note}>
            <TwoLines>{look.note}</TwoLines>
          </span>
        ) : problem ? (
          <span className="text-dim" title={problem.what}>
            <TwoLines>{problem.what}</TwoLines>
          </span>
        ) : (
          <span className="font-mono text-dim" title={path}>
            <TwoLines>{path}</TwoLines>
          </span>
        ),
      track: 'minmax(11rem, 1fr)',
    },
    {
      id: 'original',
      name: 'Original',
      of: ({ originalBytes }) => originalBytes,
      show: ({ originalBytes }) => <Bytes value={originalBytes} />,
      track: '5.5rem',
      right: true,
    },
    {
      id: 'size',
      name: 'Size',
      of: ({ sizeBytes }) => sizeBytes,
      show: ({ sizeBytes }) => sizeBytes > 0 && <Bytes value={sizeBytes} />,
      track: '5.5rem',
      right: true,
    },
    {
      id: 'share',
      name: 'Share',
      of: (line) => shareOf(line),
      show: (line) => line.sizeBytes > 0 && <span className="font-mono whitespace-nowrap">{saidShare(line)}</span>,
      track: '5rem',
      right: true,
    },
    {
      id: 'rate',
      name: 'Mb/s',
      of: ({ sizeBytes, seconds }) => sizeBytes / Math.max(1e-9, seconds ?? 0),
      show: ({ sizeBytes, originalBytes, seconds }) =>
        sizeBytes > 0 && (
          <span className="font-mono whitespace-nowrap">
            {sayMegabits(originalBytes, seconds)} → {sayMegabits(sizeBytes, seconds)}
          </span>
        ),
      track: '8rem',
      right: true,
    },
  ];
}

/** A long name takes no more of a list than two lines; the whole of it stands on what leads to it. */
function TwoLines({ children }: { children: string }) {
  return <span className="line-clamp-2 break-words">{children}</span>;
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
      <ChecksHead production={production} at="outputs">
        <span role="group" aria-label="Show" className="flex flex-wrap gap-1">
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
        </span>
      </ChecksHead>
      <ListTable label="Outputs" lines={outputs} idOf={({ id }) => id} columns={columns} className="flex-1" />
    </div>
  );
}
