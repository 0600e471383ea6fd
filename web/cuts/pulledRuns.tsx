import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { runsQuery } from '../api/queries.ts';
import { Button } from '../ui/pieces.tsx';

interface PulledRunsProps {
  version: string;
  production: string;
  onSwap: (run: string) => void;
}

/** Runs that were pulled for a version of a cut. */
export function PulledRuns({ version, production, onSwap }: PulledRunsProps) {
  const { data: runs = [] } = useQuery(runsQuery(production));
  const pulled = runs.filter(({ pull }) => pull?.version === version);
  if (pulled.length === 0) return null;
  return (
    <ul aria-label="Pulled" className="flex flex-wrap items-center gap-x-4 gap-y-1 text-dim">
      {pulled.map(({ id, name, endedAt }) => (
        <li key={id}>
          Pulled:{' '}
          <Link className="underline underline-offset-4" to={`/p/${production}/runs/${id}`}>
            {name}
          </Link>
          {endedAt === null ? (
            ', under way'
          ) : (
            <Button className="ml-2 h-7 px-2.5" onClick={() => onSwap(id)}>
              Swap…
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
