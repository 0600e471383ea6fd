import type { ProductionAnswer } from '@relay/contract/site';
import { NavLink, useParams } from 'react-router';
import { plural } from './format.ts';

interface Station {
  path: string;
  name: string;
  /** What waits there, in words, and how much work it is. */
  count: (counts: ProductionAnswer['counts']) => string;
  work: (counts: ProductionAnswer['counts']) => number;
}

/** The stations that stand so far, in working order. */
export const stations: readonly Station[] = [
  {
    path: 'arrivals',
    name: 'Arrivals',
    count: (c) => (c.arriving > 0 ? `${c.arriving} arriving` : plural(c.rolls, 'roll')),
    work: (c) => c.arriving,
  },
  {
    path: 'clips',
    name: 'Clips',
    count: (c) => (c.toDecide > 0 ? `${c.clips}, ${c.toDecide} to decide` : String(c.clips)),
    work: (c) => (c.runs === 0 ? c.clips : c.toDecide),
  },
  {
    path: 'bench',
    name: 'Bench',
    count: (c) => (c.logWithout > 0 ? `${c.logWithout} look like log` : plural(c.groups, 'group')),
    work: (c) => (c.runs === 0 ? c.logWithout : 0),
  },
  { path: 'recipes', name: 'Recipes', count: (c) => String(c.recipes), work: () => 0 },
  {
    path: 'runs',
    name: 'Runs',
    count: (c) => (c.legsOpen > 0 ? `${c.legsOpen} to go` : String(c.runs)),
    work: (c) => c.legsOpen,
  },
  {
    path: 'checks',
    name: 'Checks',
    count: (c) => (c.needEyes > 0 ? `${c.needEyes} to look at` : String(c.outputs)),
    work: (c) => c.needEyes,
  },
  { path: 'handoffs', name: 'Hand-offs', count: (c) => String(c.handoffs), work: () => 0 },
];

/**
 * The track: where the production's work lies, and the way between the stations. A stretch of lane under each is as
 * long as what waits there; the baton lies where most of it is.
 */
export function Track({ production }: { production: ProductionAnswer | undefined }) {
  const counts = production?.counts;
  // Also before anything is known of it.
  const id = useParams().production ?? production?.id ?? '';
  const work = stations.map((station) => (counts ? station.work(counts) : 0));
  const most = Math.max(...work);
  const baton = most > 0 ? work.indexOf(most) : -1;
  return (
    <nav aria-label="Stations" className="min-w-0 flex-1">
      <ol className="relative flex border-b border-line">
        <span aria-hidden className="pointer-events-none absolute inset-x-0 bottom-[5px] border-b border-line" />
        {stations.map((station, index) => {
          const share = most > 0 ? (work[index] ?? 0) / most : 0;
          return (
            <li key={station.path} className="relative min-w-0 flex-1 max-lg:flex-auto">
              <NavLink
                to={`/p/${id}/${station.path}`}
                className={({ isActive }) =>
                  `block px-1 pt-2 pb-3 text-center max-lg:pt-4 ${isActive ? 'font-semibold text-ink' : 'text-dim hover:text-ink'}`
                }
              >
                {({ isActive }) => (
                  <>
                    <span className="block truncate leading-[18px]">{station.name}</span>
                    <span className="block truncate font-mono text-[11px] leading-4 font-normal text-faint max-lg:sr-only">
                      {counts ? station.count(counts) : '–'}
                    </span>
                    {isActive && (
                      <span
                        aria-hidden
                        className="absolute top-0 left-1/2 h-0.5 w-10 -translate-x-1/2 rounded-b bg-ink"
                      />
                    )}
                  </>
                )}
              </NavLink>
              {share > 0 && (
                <span
                  aria-hidden
                  className={`absolute bottom-0 left-1/2 h-[5px] -translate-x-1/2 rounded-full transition-[width] ${index === baton ? 'bg-clay' : 'bg-sky'}`}
                  style={{ width: `${10 + 75 * share}%` }}
                />
              )}
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
