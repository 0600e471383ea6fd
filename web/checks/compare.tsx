import { checkRows } from '@relay/contract/routes/checks';
import { formatRate } from '@relay/core/time/rate';
import { frameLabel } from '@relay/core/time/frameLabel';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import { comparisonQuery, outputQuery } from '../api/queries.ts';
import { docketWidth } from '../ui/docketWidth.ts';
import { blocks, Bytes, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ProofTable } from '../ui/proof.tsx';
import { Remove } from '../ui/remove.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { standingOf } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';
import { LookedAt } from './look.tsx';
import { InSheet } from './inSheet.tsx';
import { Pair } from './pair.tsx';
import type { Drawer } from './pairView.tsx';
import { Reach } from './reach.tsx';
import { usePairPlayer } from './usePairPlayer.ts';

/** A finished output beside its original, or beside another of the clip, at the same frame. */
export function ComparePage() {
  const { production = '', output = '' } = useParams();
  return <Compared key={output} production={production} id={output} />;
}

function Compared({ production, id }: { production: string; id: string }) {
  const go = useNavigate();
  const { data: output, error, refetch } = useQuery(outputQuery(id));
  const [asked, setAsked] = useAddress();
  const against = asked.get('against') ?? 'original';
  const sheet = asked.get('sheet');
  const { data: both } = useQuery({ ...comparisonQuery(id, against), enabled: output?.pictured === true });
  const drawer = useRef<Drawer | null>(null);
  // Whoever comes from a picture sees that frame.
  const [begin] = useState(Math.max(0, Math.trunc(Number(asked.get('frame') ?? 0)) || 0));
  const player = usePairPlayer({
    begin,
    output: id,
    against,
    both,
    onPicture: (video, drawn) => drawer.current?.moving(video, drawn),
  });
  if (error && blocks(error, output)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!output)
    return (
      <div className="flex-1">
        <Loading what="The output" />
      </div>
    );
  const { video } = output.original;
  const label = (frame: number): string => frameLabel(frame, output.rate, output.start);
  return (
    <>
      {output.pictured ? (
        <Pair
          key={output.id}
          output={output}
          against={against}
          onAgainst={(other) => setAsked({ against: other === 'original' ? null : other, frame: null })}
          player={player}
          onDrawer={(one) => {
            drawer.current = one;
          }}
          labelOf={label}
        />
      ) : (
        <p className="flex flex-1 flex-col justify-center bg-surround px-8 text-center text-surround-ink">
          <span className="text-white">{output.deliverable} is sound alone</span>Its proof is at the right: length,
          level, sync and channels were held against the original's.
        </p>
      )}
      <aside
        aria-label="Docket"
        className={`flex ${docketWidth} shrink-0 flex-col gap-4 overflow-auto border-l border-line bg-raised/40 p-5`}
      >
        <div>
          <h1 className="flex items-center justify-between gap-2 text-[15px] font-semibold">
            <span className="break-all">{output.original.stem}</span>
            <span className="text-[13px] font-normal">
              <Stands as={standingOf(output)} />
            </span>
          </h1>
        </div>
        {sheet !== null && <InSheet production={production} run={sheet} output={id} />}
        <Reach output={output} />
        <LookedAt
          key={output.id}
          production={production}
          output={output}
          head={player.head}
          labelOf={label}
          onFrame={player.go}
        />
        {output.problem && (
          <p>
            <span className="block">{output.problem.what}.</span>
            <span className="text-dim">{output.problem.remedy}.</span>
          </p>
        )}
        <p className="text-dim">{output.said.map((line) => `${line}.`).join(' ')}</p>
        <p className="flex justify-between">
          <span className="text-dim">Size</span>
          <span className="flex gap-2">
            <Bytes value={output.original.sizeBytes} />
            <span>→</span>
            <Bytes value={output.sizeBytes} />
          </span>
        </p>
        <p className="flex justify-between">
          <span className="text-dim">Rate</span>
          <span className="font-mono">
            {video ? formatRate(video.rate) : ''} → {formatRate(output.rate)}
          </span>
        </p>
        {output.proof && <ProofTable proof={output.proof} />}
        <Link className="underline underline-offset-4" to={`/p/${production}/checks/${id}/along`}>
          Measured along its length
        </Link>
        <Link className="underline underline-offset-4" to={`/p/${production}/runs/${output.runId}`}>
          To its run
        </Link>
        <Remove
          what={output.path}
          says="It is checked and handed off no more."
          remove={() => ask(checkRows.remove, { output: output.id })}
          onRemoved={() => void go(`/p/${production}/checks`)}
          className="self-start"
        />
      </aside>
    </>
  );
}
