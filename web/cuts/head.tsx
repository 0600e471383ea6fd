import type { RehearsalAnswer } from '@relay/contract/cuts';
import { cutRows } from '@relay/contract/routes/cuts';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { cutChangesQuery } from '../api/queries.ts';
import { PulledRuns } from './pulledRuns.tsx';
import { plural } from '../ui/format.ts';
import { Button } from '../ui/pieces.tsx';

/** A cut's name, versions and rate, what changed since the version before, and what can be taken along. */
export function CutHead({
  version,
  production,
  rehearsal,
  onPull,
  onSwap,
}: {
  version: string;
  production: string;
  rehearsal: RehearsalAnswer;
  onPull: () => void;
  /** Shows the cut on what a run made for it. */
  onSwap: (run: string) => void;
}) {
  const { data: changes } = useQuery(cutChangesQuery(version));
  const { cut, version: now, versions, title, rate, rateWhy, length } = rehearsal;
  const changed = changes?.changes.filter(({ kind }) => kind !== 'same') ?? [];
  const link = 'underline underline-offset-4';
  return (
    <header className="flex flex-col gap-1 px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 className="min-w-0 text-lg font-semibold break-words">{cut.name}</h1>
        <nav aria-label="Versions" className="flex flex-wrap gap-x-2">
          {versions.map(({ id, number, fileName }) => (
            <Link
              key={id}
              to={`/p/${production}/handoffs/cuts/${id}`}
              aria-current={id === version ? 'page' : undefined}
              title={fileName}
              className={id === version ? 'font-semibold' : `text-dim ${link}`}
            >
              Version {number}
            </Link>
          ))}
        </nav>
        <span className="ml-auto flex flex-wrap gap-x-4">
          <button type="button" className={link} onClick={() => window.print()}>
            Print
          </button>
          <a className={link} href={addressOf(cutRows.missing, { version, query: { to: 'text' } })} download>
            Missing, text
          </a>
          <a className={link} href={addressOf(cutRows.missing, { version, query: { to: 'csv' } })} download>
            CSV
          </a>
          <a className={link} href={addressOf(cutRows.list, { version })} download>
            List as it came
          </a>
          <Button
            className="-my-1"
            main
            onClick={onPull}
            disabled={rehearsal.events.every(({ frames }) => frames === null)}
          >
            Pull…
          </Button>
        </span>
      </div>
      <p className="text-dim">
        {title && title !== cut.name ? `${title}, ` : ''}
        {plural(now.events, 'event')}, <span className="font-mono">{length}</span> at{' '}
        <abbr title={`${rateWhy}.`} className="underline decoration-dotted underline-offset-4">
          {rate}
        </abbr>
        , from {now.fileName}
      </p>
      <PulledRuns version={version} production={production} onSwap={onSwap} />
      {changes && (
        <details>
          <summary className="cursor-pointer text-dim">
            {changed.length === 0
              ? `Nothing changed since version ${changes.before.number}`
              : `${plural(changed.length, 'change')} since version ${changes.before.number}; ${changes.newSeconds.toFixed(1)} s of originals are newly needed`}
          </summary>
          <ul aria-label="Changes" className="mt-1 max-h-40 overflow-auto">
            {changed.slice(0, 500).map(({ kind, what }, index) => (
              <li key={index} className="flex gap-3 break-words">
                <span className="w-20 shrink-0 text-dim">{kind}</span>
                {what}
              </li>
            ))}
            {changed.length > 500 && <li className="text-dim">and {changed.length - 500} more</li>}
          </ul>
        </details>
      )}
    </header>
  );
}
