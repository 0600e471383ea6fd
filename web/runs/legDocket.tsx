import { checkRows } from '@relay/contract/routes/checks';
import { runRows } from '@relay/contract/routes/runs';
import type { LegAnswer, LegLine } from '@relay/contract/runs';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { addressOf, ask } from '../api/client.ts';
import { legQuery } from '../api/queries.ts';
import { saySpan } from '../ui/format.ts';
import { Button, Bytes, CopyButton, Key, Loading } from '../ui/pieces.tsx';
import { ProofTable } from '../ui/proof.tsx';
import { standingOf, standingOfLeg } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';
import type { PlaceOf } from '../ui/memberPlace.ts';

interface LegDocketProps {
  line: LegLine;
  production: string;
  /** An output's path as it is copied. */
  placeOf: PlaceOf;
  leftSeconds: number | null;
  log: boolean;
  onLog: () => void;
  /** Hold or release, and before all others; null where the leg does not wait. */
  onHold: (() => void) | null;
  onFirst: (() => void) | null;
  onStop: () => void;
  onRetry: () => void;
}

/** What was done and said while a leg was made. */
function LegLog({ id, state }: { id: string; state: string }) {
  const { data } = useQuery({
    queryKey: ['leg', id, 'log', state],
    queryFn: () => ask(runRows.log, { leg: id }),
  });
  return (
    <pre
      aria-label="Log"
      tabIndex={0}
      className="max-h-72 overflow-auto rounded-md border border-line bg-ground p-2 font-mono text-[11px] break-all whitespace-pre-wrap text-dim"
    >
      {data ? data.log || 'Nothing yet: it is written when the leg ends.' : '…'}
    </pre>
  );
}

/** How far a leg is, and how fast. */
function LegProgress({ line, leftSeconds }: Pick<LegDocketProps, 'line' | 'leftSeconds'>) {
  const share = line.framesTotal > 0 ? line.framesDone / line.framesTotal : 0;
  return (
    <div>
      <span
        role="progressbar"
        aria-label={`${line.stem} made`}
        aria-valuenow={Math.round(share * 100)}
        className="block h-1.5 overflow-hidden rounded-full bg-lane"
      >
        <span className="block h-full rounded-full bg-sky" style={{ width: `${share * 100}%` }} />
      </span>
      <p className="mt-1.5 flex justify-between font-mono text-dim">
        <span>{Math.floor(share * 100)} %</span>
        <span>{line.speed ? `${line.speed.toFixed(2)}×` : line.state}</span>
        <span>{leftSeconds === null ? '' : `${saySpan(leftSeconds)} left`}</span>
      </p>
    </div>
  );
}

/** What can be done with a leg as it stands. */
function LegActions(
  props: Pick<LegDocketProps, 'line' | 'onHold' | 'onFirst' | 'onStop' | 'onRetry'> & { planned: boolean },
) {
  const { line, planned, onHold, onFirst } = props;
  const stoppable = ['running', 'proving', 'waiting', 'held'].includes(line.state);
  const again = planned && (line.state === 'failed' || line.state === 'stopped');
  return (
    <div className="flex flex-wrap gap-2 empty:hidden">
      {onFirst && (
        <Button onClick={onFirst}>
          First <Key>F</Key>
        </Button>
      )}
      {onHold && (
        <Button onClick={onHold}>
          {line.state === 'held' ? 'Release' : 'Hold'} <Key>H</Key>
        </Button>
      )}
      {stoppable && (
        <Button onClick={props.onStop}>
          Stop this leg <Key>S</Key>
        </Button>
      )}
      {again && (
        <Button main onClick={props.onRetry}>
          Retry <Key>A</Key>
        </Button>
      )}
    </div>
  );
}

interface MadeProps {
  output: LegAnswer['outputs'][number];
  production: string;
  placeOf: PlaceOf;
  /** What the whole leg's problem is: it is not said again. */
  said: string | undefined;
}

/** One output: where it lies, and its proof. */
function Made({ output, production, placeOf, said }: MadeProps) {
  const { state, problem, proof } = output;
  return (
    <section aria-label={output.deliverable} className="border-t border-line pt-3">
      <h3 className="flex items-center justify-between font-semibold">
        {output.deliverable}
        <span className="flex items-center gap-3 font-normal">
          {output.sizeBytes > 0 && <Bytes value={output.sizeBytes} />}
          <Stands as={standingOf(output)} />
        </span>
      </h3>
      <p className="flex items-center gap-1 font-mono text-[11px] text-faint">
        <span className="min-w-0 flex-1 break-all">{output.path}</span>
        <CopyButton text={placeOf(output.path, output.deliverable)} label="Copy the path" />
      </p>
      {output.alreadyThere && <p className="text-dim">Was there from an earlier run; proved again.</p>}
      {(state === 'proved' || state === 'needs eyes') && (
        <p className="mt-2 flex gap-4">
          <Link className="underline underline-offset-4" to={`/p/${production}/checks/${output.id}`}>
            Play beside the original
          </Link>
          <a
            className="underline underline-offset-4"
            href={addressOf(checkRows.file, { output: output.id, query: { keep: 'true' } })}
            download
          >
            Download
          </a>
        </p>
      )}
      {state === 'failed' && problem && problem.what !== said && (
        <p className="text-dim">
          {problem.what}. {problem.remedy}.
        </p>
      )}
      {proof && (
        <details className="mt-2" open={state === 'needs eyes' || undefined}>
          <summary className="cursor-pointer text-dim">
            {proof.comparisons.filter((c) => c.holds).length} of {proof.comparisons.length} comparisons hold
          </summary>
          <ProofTable proof={proof} />
        </details>
      )}
    </section>
  );
}

/** One leg: how far it is, what it does, what came of it, and the proofs. */
export function LegDocket(props: LegDocketProps) {
  const { line, production, placeOf, log } = props;
  const { data: leg } = useQuery(legQuery(line.id));
  const planned = leg?.outputsPlanned ?? [];
  return (
    <div className="flex flex-col gap-4 p-5">
      <div>
        <h2 className="flex items-center justify-between gap-2 text-[15px] font-semibold">
          <span className="break-all">{line.stem}</span>
          <span className="text-[13px] font-normal">
            <Stands as={standingOfLeg(line)} />
          </span>
        </h2>
        <p className="font-mono text-[11px] break-all text-faint">{line.path}</p>
        <p className="flex items-center justify-between gap-2 text-dim">
          <span>{line.makes}</span>
          <button
            type="button"
            aria-expanded={log}
            onClick={props.onLog}
            className="shrink-0 underline underline-offset-4 hover:text-ink"
          >
            Log <Key>L</Key>
          </button>
        </p>
      </div>
      {(line.state === 'running' || line.state === 'proving') && (
        <LegProgress line={line} leftSeconds={props.leftSeconds} />
      )}
      {line.problem && (
        <p role="note">
          <span className="block">{line.problem.what}.</span>
          <span className="text-dim">{line.problem.remedy}.</span>
        </p>
      )}
      <LegActions {...props} planned={planned.length > 0} />
      {log && <LegLog id={line.id} state={line.state} />}
      {!leg && <Loading what="The leg" rows={4} />}
      {leg && leg.said.length > 0 && <p className="text-dim">{leg.said.map((text) => `${text}.`).join(' ')}</p>}
      {leg?.removed.map(({ path, removal }) => (
        <p key={path}>
          <span className="block font-mono text-[11px] break-all text-faint">{path}</span>
          <Link
            className="text-dim underline underline-offset-4"
            to={`/p/${production}/handoffs/space?removal=${removal}`}
          >
            Deleted, and the space came back
          </Link>
        </p>
      ))}
      {leg?.outputs.length === 0 &&
        leg.removed.length === 0 &&
        planned.map(({ path, line: says }) => (
          <p key={path}>
            <span className="block font-mono text-[11px] break-all text-faint">{path}</span>
            <span className="font-mono">{says}</span>
          </p>
        ))}
      {leg?.outputs.map((output) => (
        <Made key={output.id} output={output} production={production} placeOf={placeOf} said={line.problem?.what} />
      ))}
    </div>
  );
}
