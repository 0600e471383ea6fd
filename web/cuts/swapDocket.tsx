import { swapRows } from '@relay/contract/routes/swaps';
import type { SwapAnswer, SwapProof } from '@relay/contract/cuts';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { addressOf } from '../api/client.ts';
import { swapProofQuery, swapQuery } from '../api/queries.ts';
import { docketWidth } from '../ui/docketWidth.ts';
import { plural } from '../ui/format.ts';
import { Button, Field, inputLook, Loading, ProblemLine, problemOf } from '../ui/pieces.tsx';

/** A cut on what was pulled for it: lists to take along, and whether they lead to the right frames. */
export function SwapDocket({ run, onClose }: { run: string; onClose: () => void }) {
  const [deliverable, setDeliverable] = useState<string>();
  const { data: swap, error } = useQuery(swapQuery(run, deliverable));
  const link = 'underline underline-offset-4';
  const query = deliverable === undefined ? {} : { deliverable };
  return (
    <aside
      aria-label="Swap"
      className={`${docketWidth} shrink-0 overflow-auto border-l border-line bg-sheet px-4 py-4`}
    >
      <h2 className="text-[15px] font-semibold">The cut on what was pulled</h2>
      {error && !swap && <ProblemLine problem={problemOf(error)} />}
      {!swap && !error && <Loading what="The swap" />}
      {swap && (
        <>
          {swap.deliverables.length > 1 && (
            <Field label="Made of">
              <select
                className={inputLook}
                value={swap.deliverable}
                onChange={(event) => setDeliverable(event.target.value)}
              >
                {swap.deliverables.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </Field>
          )}
          <Count swap={swap} />
          <p className="mt-3 flex gap-x-4">
            {(['edl', 'otio', 'paths'] as const).map((to) => (
              <a
                key={to}
                className={link}
                href={addressOf(swapRows.written, { run, query: { ...query, to } })}
                download
              >
                {{ edl: 'EDL', otio: 'OTIO', paths: 'Table of paths' }[to]}
              </a>
            ))}
          </p>
          <Proof key={swap.deliverable} run={run} deliverable={deliverable} swap={swap} />
        </>
      )}
      <Button className="mt-4" onClick={onClose}>
        Close
      </Button>
    </aside>
  );
}

function Count({ swap: { swapped, events, left } }: { swap: SwapAnswer }) {
  return (
    <>
      <p className="mt-3">
        {swapped} of {plural(events, 'event')} {swapped === 1 ? 'is' : 'are'} on pulled files. Source timecode is that
        of the originals.
      </p>
      {left.length > 0 && (
        <ul aria-label="As they were" className="mt-2 text-dim">
          {left.map(({ number, why }) => (
            <li key={number} className="break-words">
              <span className="font-mono">{number}</span> is as it was: {why}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

interface ProofProps {
  run: string;
  deliverable: string | undefined;
  swap: SwapAnswer;
}

/** Whether the list that is written leads to the originals' frames, by their pictures. */
function Proof({ run, deliverable, swap }: ProofProps) {
  const { data, error, isFetching, refetch } = useQuery(swapProofQuery(run, deliverable));
  return (
    <section aria-label="Proof" className="mt-4 border-t border-line pt-3">
      <p className="text-dim">
        Opens every event of the written list at its in point and holds the picture against the original's.
      </p>
      <Button className="mt-2" disabled={isFetching || swap.swapped === 0} onClick={() => void refetch()}>
        {isFetching ? 'Holding pictures against each other…' : 'Prove the swap'}
      </Button>
      <div aria-live="polite">
        {error && <ProblemLine problem={problemOf(error)} />}
        {data && !isFetching && <Proved proof={data} />}
      </div>
    </section>
  );
}

function Proved({ proof: { agree, events } }: { proof: SwapProof }) {
  const others = events.filter(({ agrees }) => !agrees);
  return (
    <>
      <p className={`mt-2 font-semibold ${others.length > 0 ? 'text-rose' : ''}`}>
        {agree} of {plural(events.length, 'picture')} agree
      </p>
      {others.map(({ number, path, at, why }) => (
        <p key={number} className="mt-1 break-words">
          Event <span className="font-mono">{number}</span>, frame {at} of {path}: {why}
        </p>
      ))}
    </>
  );
}
