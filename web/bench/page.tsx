import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { benchQuery } from '../api/queries.ts';
import { blocks, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ColourBench } from './colourBench.tsx';
import { CorrectBench } from './correctBench.tsx';
import { usePart } from './parts.tsx';

/** One clip with one part of what is corrected on it. */
export function BenchPage() {
  const { production = '', clip = '' } = useParams();
  const [part, setPart] = usePart();
  const { data: bench, error, refetch } = useQuery(benchQuery(clip));
  if (error && blocks(error, bench)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!bench || bench.clip !== clip)
    return (
      <div className="flex-1 bg-surround">
        <Loading what="The bench" />
      </div>
    );
  // A clip's own bench: what was drafted for one is not carried to the next.
  const its = { bench, production, onPart: setPart };
  return part === 'colour' ? (
    <ColourBench key={bench.clip} {...its} />
  ) : (
    <CorrectBench key={bench.clip} {...its} part={part} />
  );
}
