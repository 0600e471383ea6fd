import type { HandoffLine } from '@relay/contract/checks';
import { handoffRows } from '@relay/contract/routes/handoffs';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { Button, Bytes, CopyButton } from '../ui/pieces.tsx';

interface MadeListProps {
  production: string;
  lines: readonly HandoffLine[];
  onHandOff: (run: string) => void;
}

const link = 'underline underline-offset-4';

/** Its rule asks for nothing first, or that is done. */
function mayGo({ sheet }: HandoffLine): boolean {
  return sheet === null || sheet.met;
}

function saysWhyNot({ sheet }: HandoffLine): string {
  return `To be looked at first: ${sheet?.accepted ?? 0} of ${sheet?.asked ?? 0} accepted`;
}

/** Runs with finished outputs: where they lie, and the sheets that lead back from them. */
export function MadeList({ production, lines, onHandOff }: MadeListProps) {
  return (
    <section aria-label="Made so far">
      <h2 className="mb-3 text-lg font-semibold">Made so far</h2>
      {lines.length === 0 && (
        <p className="max-w-xl text-dim">
          Nothing to hand off yet. When a run has made outputs, they stand here with their relink sheet: the table that
          leads every proxy back to its original.
        </p>
      )}
      <ul className="border-t border-line empty:hidden">
        {lines.map((line) => (
          <li key={line.runId} className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line py-3">
            <span className="min-w-48 flex-1 break-words">
              <span className="font-semibold">{line.name}</span>{' '}
              <span className="text-dim">{plural(line.outputs, 'output')}, </span>
              <Bytes value={line.bytes} />
            </span>
            <span className="flex min-w-0 flex-wrap items-center gap-x-4 gap-y-1">
              <Link className={link} to={`/p/${production}/runs/${line.runId}/check-sheet`}>
                {mayGo(line) ? 'Check sheet' : saysWhyNot(line)}
              </Link>
              <Link className={link} to={`/p/${production}/runs/${line.runId}/contact-sheet`}>
                Contact sheet
              </Link>
              {mayGo(line) && (
                <>
                  <a className={link} href={addressOf(handoffRows.relink, { run: line.runId, format: 'csv' })} download>
                    Relink sheet, CSV
                  </a>
                  <a
                    className={link}
                    href={addressOf(handoffRows.relink, { run: line.runId, format: 'json' })}
                    download
                  >
                    JSON
                  </a>
                  <Button onClick={() => onHandOff(line.runId)} aria-label={`Hand off… ${line.name}`}>
                    Hand off…
                  </Button>
                </>
              )}
            </span>
            {line.places.map((place) => (
              <span key={place} className="flex w-full min-w-0 items-center gap-1 font-mono text-[11px] text-faint">
                <span className="truncate">{place}</span>
                <CopyButton text={place} label="Copy the folder's path" />
              </span>
            ))}
          </li>
        ))}
      </ul>
      {lines.length > 0 && (
        <p className="mt-4 text-dim">
          In each of these folders lies the sheet of what is in it, as <code>relink.csv</code> and{' '}
          <code>relink.json</code>.
        </p>
      )}
    </section>
  );
}
