import type { HandoffLine } from '@relay/contract/checks';
import { handoffRows } from '@relay/contract/routes/handoffs';
import { addressOf } from '../api/client.ts';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { handoffsQuery } from '../api/queries.ts';
import { CutList } from '../cuts/list.tsx';
import { plural } from '../ui/format.ts';
import { blocks, Bytes, CopyButton, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';

/** Its rule asks for nothing first, or that is done. */
function mayGo({ sheet }: HandoffLine): boolean {
  return sheet === null || sheet.met;
}

function saysWhyNot({ sheet }: HandoffLine): string {
  return `To be looked at first: ${sheet?.accepted ?? 0} of ${sheet?.asked ?? 0} accepted`;
}

/** What can be handed to the edit team: where it lies, and the sheet that leads back from it. */
export function HandoffsPage() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(handoffsQuery(production));
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The hand-offs" rows={3} />
      </div>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className="mx-auto max-w-5xl px-6 py-6">
        <h2 className="mb-3 text-lg font-semibold">Hand-offs</h2>
        {data.length === 0 && (
          <p className="max-w-xl text-dim">
            Nothing to hand off yet. When a run has made outputs, they stand here with their relink sheet: the table
            that leads every proxy back to its original.
          </p>
        )}
        <ul className="border-t border-line empty:hidden">
          {data.map((line) => (
            <li
              key={line.runId}
              className="grid grid-cols-[1fr_auto] items-center gap-x-6 gap-y-1 border-b border-line py-3"
            >
              <span>
                <span className="font-semibold">{line.name}</span>{' '}
                <span className="text-dim">{plural(line.outputs, 'output')}, </span>
                <Bytes value={line.bytes} />
              </span>
              <span className="flex gap-4">
                <Link className="underline underline-offset-4" to={`/p/${production}/runs/${line.runId}/check-sheet`}>
                  {mayGo(line) ? 'Check sheet' : saysWhyNot(line)}
                </Link>
                <Link className="underline underline-offset-4" to={`/p/${production}/runs/${line.runId}/contact-sheet`}>
                  Contact sheet
                </Link>
                {mayGo(line) && (
                  <>
                    <a
                      className="underline underline-offset-4"
                      href={addressOf(handoffRows.relink, { run: line.runId, format: 'csv' })}
                      download
                    >
                      Relink sheet, CSV
                    </a>
                    <a
                      className="underline underline-offset-4"
                      href={addressOf(handoffRows.relink, { run: line.runId, format: 'json' })}
                      download
                    >
                      JSON
                    </a>
                  </>
                )}
              </span>
              {line.places.map((place) => (
                <span key={place} className="col-span-2 flex items-center gap-1 font-mono text-[11px] text-faint">
                  <span className="truncate">{place}</span>
                  <CopyButton text={place} label="Copy the folder's path" />
                </span>
              ))}
            </li>
          ))}
        </ul>
        {data.length > 0 && (
          <p className="mt-4 text-dim">
            In each of these folders lies the sheet of what is in it, as <code>relink.csv</code> and{' '}
            <code>relink.json</code>.
          </p>
        )}
        <CutList production={production} />
      </div>
    </div>
  );
}
