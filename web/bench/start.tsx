import { clipRows } from '@relay/contract/routes/clips';
import { addressOf } from '../api/client.ts';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { benchGroupsQuery } from '../api/queries.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { plural } from '../ui/format.ts';
import { blocks, Empty, Loading, MainLink, ProblemNote, problemOf } from '../ui/pieces.tsx';

/** The bench before a clip is on it: the groups, what holds for each, and what looks like log without a chain. */
export function BenchStart() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(benchGroupsQuery(production));
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The groups" />
      </div>
    );
  if (data.length === 0)
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing on the bench yet">
          <p>Clips come here from their groups, to be seen before and after their chain.</p>
          <MainLink to={`/p/${production}/arrivals`} className="mt-4">
            Go to Arrivals
          </MainLink>
        </Empty>
      </div>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className="mx-auto w-full max-w-5xl px-6 py-6">
        <div className="flex items-baseline justify-between gap-4">
          <h1 className="text-lg font-semibold">Groups of like clips</h1>
          <Link
            to={`/p/${production}/cabinet`}
            className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
          >
            LUT cabinet
          </Link>
        </div>
        <p className="mb-4 text-dim">
          A chain is set once for a group, a roll or a selection; the nearest to a clip holds.
        </p>
        <ul className="border-t border-line">
          {data.map((group) => (
            <li key={group.key} className="border-b border-line">
              <Link
                to={`/p/${production}/bench/${group.first}`}
                className="grid grid-cols-[4.5rem_1fr_auto] items-center gap-5 px-2 py-2.5 hover:bg-raised"
              >
                <img
                  src={addressOf(clipRows.poster, { clip: group.first })}
                  alt=""
                  className="h-10 w-18 bg-surround object-contain"
                />
                <span className="min-w-0">
                  <span className="block truncate font-semibold">{group.text}</span>
                  <span className="block truncate text-dim">{group.says ?? 'No chain: as shot'}</span>
                </span>
                <span className="text-right">
                  <span className="block font-mono">{plural(group.clips, 'clip')}</span>
                  {group.logWithout > 0 ? (
                    <span className="flex items-center justify-end gap-1.5">
                      <LevelShape level="decide" />
                      {group.logWithout} look like log
                    </span>
                  ) : (
                    <span className="block text-dim">{group.chained > 0 ? `${group.chained} with a chain` : ''}</span>
                  )}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}
