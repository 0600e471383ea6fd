import { sayReason } from '@relay/core/checks/checkSheet';
import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { checkSheetQuery } from '../api/queries.ts';
import { useKeys } from '../ui/keys.ts';
import { Key } from '../ui/pieces.tsx';

/** Where an output stands on its run's check sheet, with what comes next there that nobody has looked at. */
export function InSheet({ production, run, output }: { production: string; run: string; output: string }) {
  const go = useNavigate();
  const { data: sheet } = useQuery(checkSheetQuery(run));
  const lines = sheet?.lines ?? [];
  const index = lines.findIndex(({ now }) => now.id === output);
  // From here on, and then from the beginning.
  const next = [...lines.slice(index + 1), ...lines.slice(0, Math.max(0, index))].find(
    ({ look, now }) => look === null && (now.state === 'proved' || now.state === 'needs eyes'),
  );
  const to = next && `/p/${production}/checks/${next.now.id}?frame=${next.frame}&sheet=${run}`;
  useKeys({ n: () => to !== undefined && void go(to) });
  if (!sheet) return null;
  return (
    <nav aria-label="Check sheet" className="flex flex-col gap-1 rounded-lg border border-line p-3">
      <p className="flex items-baseline justify-between gap-2">
        <Link to={`/p/${production}/runs/${run}/check-sheet`} className="underline underline-offset-4">
          Check sheet
        </Link>
        <span className="font-mono">{index < 0 ? 'not on it' : `${index + 1} of ${lines.length}`}</span>
      </p>
      {index >= 0 && (
        <p className="text-dim">{lines[index]?.why.map((reason) => sayReason(reason, sheet.rule)).join(', ')}</p>
      )}
      {to ? (
        <Link to={to} className="flex items-center gap-2">
          <span className="min-w-0 truncate">
            Next: {next?.stem}, {next?.deliverable}
          </span>
          <Key>N</Key>
        </Link>
      ) : (
        <p>{sheet.state.met ? 'All of it is looked at.' : 'Nothing else waits to be looked at.'}</p>
      )}
    </nav>
  );
}
