import { StateMark } from './stateMark.tsx';
import type { Standing } from './standing.ts';

/** What somebody said is marked as what they would have found: good, or to be made again. */
export function Stands({ as, word = true }: { as: Standing; word?: boolean }) {
  if (as !== 'accepted' && as !== 'sent back') return <StateMark state={as} word={word} />;
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <StateMark state={as === 'accepted' ? 'proved' : 'failed'} word={false} />
      <span className={word ? '' : 'sr-only'}>{as}</span>
    </span>
  );
}
