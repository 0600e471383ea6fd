import type { SpaceSet } from '@relay/contract/space';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { removalsQuery, spaceQuery } from '../api/queries.ts';
import { CutSelect } from '../cuts/cutSelect.tsx';
import { wideDocketWidth } from '../ui/docketWidth.ts';
import { plural, sayBytes } from '../ui/format.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { EffectDocket } from './effectDocket.tsx';
import { RemovalDocket } from './removalDocket.tsx';
import { RemovalList } from './removalList.tsx';
import { SetList } from './setList.tsx';

/** What may be deleted of what was made here, what that comes to, what went, and how it comes back. */
export function SpacePage() {
  const { production = '' } = useParams();
  const [asked, say] = useAddress();
  const cut = asked.get('cut');
  const { data, error, refetch } = useQuery(spaceQuery(production, cut));
  const { data: removals = [] } = useQuery(removalsQuery(production));
  const [chosen, choose] = useState<ReadonlySet<string>>(new Set());
  const removal = asked.get('removal');
  useKeys({ Escape: () => (removal === null ? choose(new Set()) : say({ removal: null })) });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="What was made here, and its originals," rows={5} />
      </div>
    );
  const picked = data.sets.filter(({ key }) => chosen.has(key));
  return (
    <>
      <div className="min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <h2 className="text-lg font-semibold">Space</h2>
          <Link to={`/p/${production}/handoffs`} className="text-dim underline underline-offset-4">
            Hand-offs
          </Link>
          <span className="ml-auto">
            <CutSelect
              cuts={data.cuts}
              cut={cut}
              onChoose={(version) => {
                choose(new Set());
                say({ cut: version });
              }}
            />
          </span>
        </div>
        <Total sets={data.sets} />
        {data.sets.length === 0 ? (
          <Empty title="Nothing was made yet">
            <p>What runs make is listed here, with how much of it could go, and why that is safe.</p>
          </Empty>
        ) : (
          <SetList sets={data.sets} chosen={chosen} onChoose={choose} />
        )}
        <RemovalList removals={removals} onOpen={(id) => say({ removal: id })} />
      </div>
      {(picked.length > 0 || removal !== null) && (
        <aside
          aria-label="Docket"
          className={`${wideDocketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          {picked.length > 0 ? (
            <EffectDocket
              key={[...chosen].sort().join()}
              production={production}
              cut={cut}
              sets={picked}
              onClose={() => choose(new Set())}
              onBegun={(id) => {
                choose(new Set());
                say({ removal: id });
              }}
            />
          ) : (
            <RemovalDocket id={removal ?? ''} onClose={() => say({ removal: null })} />
          )}
        </aside>
      )}
    </>
  );
}

function Total({ sets }: { sets: readonly SpaceSet[] }) {
  const sum = (of: (set: SpaceSet) => number): number => sets.reduce((all, set) => all + of(set), 0);
  if (sets.length === 0) return null;
  const goes = sum((set) => set.goes);
  return (
    <p className="mb-4 max-w-2xl text-dim">
      {goes === 0
        ? `Of ${sayBytes(sum(({ bytes }) => bytes))} that were made here nothing may go now; what stands against it is said beside each. How many copies of originals are asked for is said under Arrivals. `
        : `${sayBytes(sum(({ goesBytes }) => goesBytes))} in ${plural(goes, 'file')} of ${sayBytes(sum(({ bytes }) => bytes))} could come back. `}
      Originals are never among these: everything here was made from them, and can be made again.
    </p>
  );
}
