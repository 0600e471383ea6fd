import { handoffRows } from '@relay/contract/routes/handoffs';
import { addressOf } from '../api/client.ts';
import { useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import { handoffsQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { blocks, Bytes, CopyButton, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';

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
  if (data.length === 0)
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing to hand off yet">
          <p>
            When a run has made outputs, they stand here with their relink sheet: the table that leads every proxy back
            to its original.
          </p>
        </Empty>
      </div>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className="mx-auto max-w-5xl px-6 py-6">
        <h2 className="mb-3 text-lg font-semibold">Hand-offs</h2>
        <ul className="border-t border-line">
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
        <p className="mt-4 text-dim">
          In each of these folders lies the sheet of what is in it, as <code>relink.csv</code> and{' '}
          <code>relink.json</code>.
        </p>
      </div>
    </div>
  );
}
