import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { originalsQuery } from '../api/queries.ts';
import { wideDocketWidth } from '../ui/docketWidth.ts';
import { plural } from '../ui/format.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Button, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { FoundDocket } from './foundDocket.tsx';
import { LookDocket } from './lookDocket.tsx';
import { placeKey } from './placeKey.ts';
import { PlaceList } from './placeList.tsx';
import { SearchList } from './searchList.tsx';

/** Where a production's originals lie, which are not there, and how they are found again where they lie now. */
export function OriginalsPage() {
  const { production = '' } = useParams();
  const [asked, say] = useAddress();
  const { data, error, refetch } = useQuery(originalsQuery(production));
  const [said, choose] = useState<ReadonlySet<string> | null>(null);
  const search = asked.get('search');
  const looking = asked.get('do') === 'look';
  useKeys({ Escape: () => say({ do: null, search: null }) });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The originals" rows={4} />
      </div>
    );
  const gone = data.places.filter((place) => place.gone > 0);
  // What is gone is what is looked for, unless somebody says otherwise.
  const chosen = said ?? new Set(gone.map(placeKey));
  const lookedFor = data.places.filter((place) => chosen.has(placeKey(place)));
  const files = gone.reduce((sum, place) => sum + place.gone, 0);
  return (
    <>
      <div className="min-w-0 flex-1 overflow-auto px-6 py-5">
        <div className="mb-2 flex flex-wrap items-center gap-3">
          <h2 className="text-lg font-semibold">Originals</h2>
          <Link to={`/p/${production}/arrivals`} className="text-dim underline underline-offset-4">
            Cards and rolls
          </Link>
          <Button
            main={!looking}
            className="ml-auto"
            disabled={lookedFor.length === 0}
            onClick={() => say({ do: 'look', search: null })}
          >
            Look for {plural(lookedFor.length, 'roll')}…
          </Button>
        </div>
        {data.places.length === 0 ? (
          <Empty title="No originals yet">
            <p>Bring a card in, or read a folder where it lies: both are under Arrivals.</p>
          </Empty>
        ) : (
          <>
            <p className="mb-4 max-w-2xl text-dim">
              {gone.length === 0
                ? 'All of them are where they were read. A drive that was exchanged, a volume that was renamed, a roll that came back from an archive: tick what lies elsewhere now, and it is looked for there.'
                : `${plural(files, 'file')} of ${plural(gone.length, 'roll')} ${files === 1 ? 'is' : 'are'} not where ${files === 1 ? 'it was' : 'they were'}. Say where to look: what is the same is known by its content, and nothing on any disk is touched.`}
            </p>
            <PlaceList places={data.places} chosen={chosen} onChoose={choose} />
            <SearchList searches={data.searches} onOpen={(id) => say({ search: id, do: null })} />
          </>
        )}
      </div>
      {(looking || search !== null) && (
        <aside
          aria-label="Docket"
          className={`${wideDocketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          {looking ? (
            <LookDocket
              production={production}
              lookedFor={lookedFor}
              onClose={() => say({ do: null })}
              onBegun={(id) => say({ do: null, search: id })}
            />
          ) : (
            <FoundDocket key={search} id={search ?? ''} onClose={() => say({ search: null })} />
          )}
        </aside>
      )}
    </>
  );
}
