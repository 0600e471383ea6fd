import type { RunLine } from '@relay/contract/runs';
import type { LegState } from '@relay/contract/states';
import { openStates } from '@relay/contract/states';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { runsQuery } from '../api/queries.ts';
import { plural, sayClock, saySpan } from '../ui/format.ts';
import { blocks, Bytes, Empty, Loading, MainLink, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { StateMark, stateColour } from '../ui/stateMark.tsx';

export const inOrder: readonly LegState[] = [
  'proved',
  'needs eyes',
  'failed',
  'stopped',
  'proving',
  'running',
  'held',
  'waiting',
];

/** What an open run does: it is made, or waits for its hour, its turn or a hand. */
function sayOpen({ legs, notBefore }: RunLine): string {
  if (legs.running || legs.proving) return 'under way';
  if (notBefore !== null && Date.parse(notBefore) > Date.now()) return `from ${sayClock(new Date(notBefore))}`;
  return legs.waiting ? 'waits its turn' : 'held';
}

/** How many legs are in which state, as one lane. */
export function Shares({ legs }: { legs: RunLine['legs'] }) {
  const total = Object.values(legs).reduce((sum, count) => sum + count, 0);
  return (
    <span
      role="img"
      aria-label={inOrder
        .filter((state) => legs[state])
        .map((state) => `${legs[state] ?? 0} ${state}`)
        .join(', ')}
      className="flex h-1.5 gap-0.5 overflow-hidden rounded-full"
    >
      {inOrder
        .filter((state) => legs[state])
        .map((state) => (
          <span
            key={state}
            className={`rounded-full ${stateColour[state]}`}
            style={{ width: `${(100 * (legs[state] ?? 0)) / Math.max(1, total)}%` }}
          />
        ))}
    </span>
  );
}

export function isOpen(legs: RunLine['legs']): boolean {
  return openStates.some((state) => (legs[state] ?? 0) > 0);
}

export function RunsPage() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(runsQuery(production));
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The runs" />
      </div>
    );
  if (data.length === 0) {
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing run yet">
          <p>A run makes intermediates and proxies from clips, and proves each of them.</p>
          <MainLink to={`/p/${production}/clips`} className="mt-4">
            Choose clips
          </MainLink>
        </Empty>
      </div>
    );
  }
  return (
    <div className="min-h-0 flex-1 overflow-auto px-6 py-6">
      <h2 className="mb-3 text-lg font-semibold">Runs</h2>
      <ul className="border-t border-line">
        {data.map((run) => (
          <li key={run.id} className="border-b border-line">
            <Link
              to={run.id}
              className="grid grid-cols-[minmax(10rem,1fr)_minmax(10rem,1fr)_14rem_auto_6rem] items-center gap-6 max-lg:grid-cols-[minmax(0,1fr)_auto_6rem] max-lg:gap-x-4 max-lg:gap-y-1 px-2 py-3 hover:bg-raised"
            >
              <span className="min-w-0">
                <span className="block truncate font-semibold">{run.name}</span>
                <span className="block truncate text-dim">
                  {run.recipeName} ·{' '}
                  {new Date(run.createdAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
                </span>
              </span>
              <Shares legs={run.legs} />
              <span className="flex flex-wrap gap-x-4">
                {inOrder
                  .filter((state) => run.legs[state])
                  .map((state) => (
                    <span key={state} className="flex items-center gap-1">
                      <span className="font-mono">{run.legs[state]}</span>
                      <StateMark state={state} />
                    </span>
                  ))}
              </span>
              <Bytes value={run.bytes} />
              <span className="text-right text-dim">
                {isOpen(run.legs)
                  ? sayOpen(run)
                  : run.endedAt
                    ? saySpan((Date.parse(run.endedAt) - Date.parse(run.createdAt)) / 1000)
                    : plural(0, 'leg')}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
