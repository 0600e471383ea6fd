import type { RehearsalAnswer } from '@relay/contract/cuts';
import { useQuery } from '@tanstack/react-query';
import { productionQuery, recipesQuery } from '../api/queries.ts';
import { PrepareRun } from '../prepare/prepareRun.tsx';
import { docketWidth } from '../ui/docketWidth.ts';

interface PullDocketProps {
  production: string;
  rehearsal: RehearsalAnswer;
  onClose: () => void;
}

/** Prepares a run of what a version of a cut needs of its originals. */
export function PullDocket({ production: id, rehearsal: { cut, version, events }, onClose }: PullDocketProps) {
  const { data: production } = useQuery(productionQuery(id));
  const { data: recipes = [] } = useQuery(recipesQuery);
  const clips = [...new Set(events.flatMap(({ original, frames }) => (original && frames ? [original.clip] : [])))];
  return (
    <aside aria-label="Pull" className={`${docketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}>
      {production && (
        <PrepareRun
          production={{ id, name: production.name, runs: production.counts.runs }}
          clips={clips}
          recipes={recipes}
          pull={{ version: version.id, cut: cut.name, number: version.number }}
          onClose={onClose}
        />
      )}
    </aside>
  );
}
