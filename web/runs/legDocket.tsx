import { runRows } from '@relay/contract/routes/runs';
import type { LegLine } from '@relay/contract/runs';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { ask } from '../api/client.ts';
import { legQuery } from '../api/queries.ts';
import { saySpan } from '../ui/format.ts';
import { Button, Bytes, CopyButton, Key, Loading } from '../ui/pieces.tsx';
import { ProofTable } from '../ui/proof.tsx';
import { StateMark } from '../ui/stateMark.tsx';

interface LegDocketProps {
  line: LegLine;
  production: string;
  /** An output's path as it is copied. */
  placeOf: (path: string) => string;
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

/** One leg: how far it is, what it does, what came of it, and the proofs. */
export function LegDocket({
  line,
  production,
  placeOf,
  leftSeconds,
  log,
  onLog,
  onHold,
  onFirst,
  onStop,
  onRetry,
}: LegDocketProps) {
  const { data: leg } = useQuery(legQuery(line.id));
  const under = line.state === 'running' || line.state === 'proving';
  const share = line.framesTotal > 0 ? line.framesDone / line.framesTotal : 0;
  return (
    <div className="flex flex-col gap-4 p-5">
      <div>
        <h2 className="flex items-center justify-between gap-2 text-[15px] font-semibold">
          <span className="break-all">{line.stem}</span>
          <span className="text-[13px] font-normal">
            <StateMark state={line.state} />
          </span>
        </h2>
        <p className="font-mono text-[11px] break-all text-faint">{line.path}</p>
        <p className="flex items-center justify-between gap-2 text-dim">
          <span>{line.makes}</span>
          <button
            type="button"
            aria-expanded={log}
            onClick={onLog}
            className="shrink-0 underline underline-offset-4 hover:text-ink"
          >
            Log <Key>L</Key>
          </button>
        </p>
      </div>
      {under && (
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
      )}
      {line.problem && (
        <p role="note">
          <span className="block">{line.problem.what}.</span>
          <span className="text-dim">{line.problem.remedy}.</span>
        </p>
      )}
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
        {(under || line.state === 'waiting' || line.state === 'held') && (
          <Button onClick={onStop}>
            Stop this leg <Key>S</Key>
          </Button>
        )}
        {(line.state === 'failed' || line.state === 'stopped') && leg && leg.outputsPlanned.length > 0 && (
          <Button main onClick={onRetry}>
            Retry <Key>A</Key>
          </Button>
        )}
      </div>
      {log && <LegLog id={line.id} state={line.state} />}
      {!leg && <Loading what="The leg" rows={4} />}
      {leg && leg.said.length > 0 && <p className="text-dim">{leg.said.map((text) => `${text}.`).join(' ')}</p>}
      {leg &&
        leg.outputs.length === 0 &&
        leg.outputsPlanned.map((planned) => (
          <p key={planned.path}>
            <span className="block font-mono text-[11px] break-all text-faint">{planned.path}</span>
            <span className="font-mono">{planned.line}</span>
          </p>
        ))}
      {leg?.outputs.map((output) => (
        <section key={output.id} aria-label={output.deliverable} className="border-t border-line pt-3">
          <h3 className="flex items-center justify-between font-semibold">
            {output.deliverable}
            <span className="flex items-center gap-3 font-normal">
              {output.sizeBytes > 0 && <Bytes value={output.sizeBytes} />}
              <StateMark state={output.state} />
            </span>
          </h3>
          <p className="flex items-center gap-1 font-mono text-[11px] text-faint">
            <span className="min-w-0 flex-1 break-all">{output.path}</span>
            <CopyButton text={placeOf(output.path)} label="Copy the path" />
          </p>
          {output.alreadyThere && <p className="text-dim">Was there from an earlier run; proved again.</p>}
          {(output.state === 'proved' || output.state === 'needs eyes') && (
            <Link
              className="mt-2 inline-block underline underline-offset-4"
              to={`/p/${production}/checks/${output.id}`}
            >
              Compare with the original
            </Link>
          )}
          {output.state === 'failed' && output.problem && output.problem.what !== line.problem?.what && (
            <p className="text-dim">
              {output.problem.what}. {output.problem.remedy}.
            </p>
          )}
          {output.proof && (
            <details className="mt-2" open={output.state === 'needs eyes' || undefined}>
              <summary className="cursor-pointer text-dim">
                {output.proof.comparisons.filter((c) => c.holds).length} of {output.proof.comparisons.length}{' '}
                comparisons hold
              </summary>
              <ProofTable proof={output.proof} />
            </details>
          )}
        </section>
      ))}
    </div>
  );
}
