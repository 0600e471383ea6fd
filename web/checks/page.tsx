import type { ChecksAnswer } from '@relay/contract/checks';
import type { LegState } from '@relay/contract/states';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { checksQuery } from '../api/queries.ts';
import { blocks, Bytes, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { StateMark } from '../ui/stateMark.tsx';

const shown: readonly LegState[] = ['needs eyes', 'failed', 'stopped', 'proved'];

/** Everything that was made, what needs a person first. */
export function ChecksPage() {
  const { production = '' } = useParams();
  const { data, error, refetch } = useQuery(checksQuery(production));
  const [state, setState] = useState<LegState | null>(null);
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The outputs" />
      </div>
    );
  if (data.total === 0)
    return (
      <div className="flex-1 px-6">
        <Empty title="Nothing to check yet">
          <p>Outputs stand here as soon as a run has made them, each with its proof, beside its original.</p>
        </Empty>
      </div>
    );
  const outputs = data.outputs.filter((output) => state === null || output.state === state);
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div role="group" aria-label="Show" className="flex gap-1 border-b border-line px-5 py-2">
        <Choice on={state === null} onClick={() => setState(null)}>
          All {data.total}
        </Choice>
        {shown.map((one) => {
          const count = data.outputs.filter((output) => output.state === one).length;
          return count > 0 ? (
            <Choice key={one} on={state === one} onClick={() => setState(one)}>
              <StateMark state={one} /> {count}
            </Choice>
          ) : null;
        })}
      </div>
      <OutputList outputs={outputs} production={production} />
    </div>
  );
}

function Choice({ on, onClick, children }: { on: boolean; onClick: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`flex h-8 items-center gap-2 rounded-md px-3 ${on ? 'bg-raised text-ink' : 'text-dim hover:text-ink'}`}
    >
      {children}
    </button>
  );
}

function OutputList({ outputs, production }: { outputs: ChecksAnswer['outputs']; production: string }) {
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: outputs.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 40,
    overscan: 12,
  });
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto">
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((row) => {
          const output = outputs[row.index];
          if (!output) return null;
          const line = (
            <>
              <StateMark state={output.state} />
              <span className="truncate font-semibold">{output.stem}</span>
              <span className="truncate text-dim">{output.deliverable}</span>
              <span className="truncate text-dim" title={output.path}>
                {output.problem ? output.problem.what : <span className="font-mono">{output.path}</span>}
              </span>
              <span className="text-right">{output.sizeBytes > 0 && <Bytes value={output.sizeBytes} />}</span>
            </>
          );
          const look = 'grid h-10 grid-cols-[7rem_9rem_7rem_1fr_6rem] items-center gap-4 border-b border-line/60 px-5';
          return (
            <li
              key={output.id}
              className="absolute inset-x-0 top-0"
              style={{ transform: `translateY(${row.start}px)` }}
            >
              {output.state === 'proved' || output.state === 'needs eyes' ? (
                <Link to={`/p/${production}/checks/${output.id}`} className={`${look} hover:bg-raised`}>
                  {line}
                </Link>
              ) : (
                <Link to={`/p/${production}/runs/${output.runId}`} className={`${look} hover:bg-raised`}>
                  {line}
                </Link>
              )}
            </li>
          );
        })}
      </ul>
    </div>
  );
}
