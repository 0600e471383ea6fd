import type { RunAnswer } from '@relay/contract/runs';
import { memberSystems, systemNames, type MemberSystem } from '@relay/core/naming/systemPath';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { checkSheetQuery } from '../api/queries.ts';
import { selectLook } from '../corrections/row.tsx';
import { plural, sayClock } from '../ui/format.ts';
import { Button, CopyButton } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import type { RunFigures } from './runFigures.ts';
import type { RunOrders } from './useRunOrders.ts';

interface RunHeadProps {
  run: RunAnswer;
  figures: RunFigures;
  orders: RunOrders;
  place: PlaceShown;
  chart: boolean;
  onChart: () => void;
  onRemoved: () => void;
}

/** Where a run's outputs lie, as members' machines write it. */
export interface PlaceShown {
  /** The run's own, and those of deliverables that go elsewhere. */
  paths: readonly string[];
  system: MemberSystem;
  /** Systems that the store's path is known for. */
  known: readonly MemberSystem[];
  onSystem: (system: MemberSystem) => void;
}

/** What a run is, where it goes, and what can be ordered of it. */
export function RunHead({ run, figures, orders, place, chart, onChart, onRemoved }: RunHeadProps) {
  const { count, open } = figures;
  return (
    <div className="flex items-start gap-3 px-6">
      <div className="min-w-0 flex-1">
        <h1 className="truncate text-xl font-semibold">
          {run.name}{' '}
          <span className="text-[13px] font-normal text-dim">
            {plural(new Set(run.legLines.map((leg) => leg.clipId)).size, 'clip')} · {run.recipeName} · asked for{' '}
            {sayClock(new Date(run.createdAt))}
          </span>
        </h1>
        <Place {...place} />
      </div>
      {run.pull && <ToCut run={run.id} pull={run.pull} done={!open} />}
      <ToCheckSheet run={run.id} />
      {count('waiting') > 0 && <Button onClick={orders.hold}>Hold what waits</Button>}
      {count('held') > 0 && (
        <Button main={count('waiting', 'running', 'proving') === 0} onClick={orders.release}>
          Release {plural(count('held'), 'leg')}
        </Button>
      )}
      {count('waiting', 'held') > 0 && <PriorityChoice value={run.priority} onChange={orders.prioritise} />}
      <Button aria-expanded={chart} onClick={onChart}>
        Speed
      </Button>
      {open ? (
        <Button onClick={orders.stop}>Stop the run</Button>
      ) : (
        <Remove
          what={run.name}
          says="Its legs, proofs and logs are known no more, and its outputs are neither checked nor handed off."
          remove={orders.remove}
          onRemoved={onRemoved}
        />
      )}
      {count('failed', 'stopped') > 0 && (
        <Button main={!open} onClick={orders.retry}>
          Retry {plural(count('failed', 'stopped'), 'leg')}
        </Button>
      )}
    </div>
  );
}

const linkLook = 'inline-flex h-8 shrink-0 items-center gap-2 rounded-md border border-line px-3.5 hover:bg-raised';

/** Leads to the cut that a run was pulled for; once it has ended, to that cut on what was made. */
function ToCut({ run, pull, done }: { run: string; pull: NonNullable<RunAnswer['pull']>; done: boolean }) {
  const { production = '' } = useParams();
  return (
    <Link
      to={`/p/${production}/handoffs/cuts/${pull.version}${done ? `?do=swap+${run}` : ''}`}
      title={`${pull.cut}, version ${pull.number}`}
      className={linkLook}
    >
      {done ? 'Swap into the cut' : 'The cut'}
    </Link>
  );
}

/** Leads to what of the run is to be looked at, and says how far that is. */
function ToCheckSheet({ run }: { run: string }) {
  const { production = '' } = useParams();
  const { data } = useQuery(checkSheetQuery(run));
  if (!data || data.outputs === 0) return null;
  const { met, accepted, asked } = data.state;
  return (
    <Link to={`/p/${production}/runs/${run}/check-sheet`} className={linkLook}>
      {met ? 'Looked at' : 'Check sheet'}
      <span className="font-mono text-dim">
        {accepted} of {asked}
      </span>
    </Link>
  );
}

function Place({ paths, system, known, onSystem }: PlaceShown) {
  const systems = memberSystems.filter((one) => one === system || known.includes(one));
  return (
    <p className="flex flex-wrap items-center gap-x-1 font-mono text-[11px] text-faint">
      {[...new Set(paths)].map((path) => (
        <span key={path} className="flex min-w-0 items-center gap-1 pr-2">
          <span className="truncate">{path}</span>
          <CopyButton text={path} label="Copy the folder's path" />
        </span>
      ))}
      {systems.length > 1 && (
        <select
          aria-label="Paths as written on"
          value={system}
          onChange={(event) => onSystem(event.target.value as MemberSystem)}
          className="rounded bg-transparent text-dim hover:text-ink"
        >
          {systems.map((one) => (
            <option key={one} value={one}>
              {systemNames[one]}
            </option>
          ))}
        </select>
      )}
    </p>
  );
}

/** Whether this run goes before or after others. */
function PriorityChoice({ value, onChange }: { value: number; onChange: (priority: number) => void }) {
  return (
    <select
      aria-label="Place among other runs"
      value={value > 0 ? 1 : value < 0 ? -1 : 0}
      onChange={(event) => onChange(Number(event.target.value))}
      className={`${selectLook} w-36!`}
    >
      <option value={1}>before others</option>
      <option value={0}>in its turn</option>
      <option value={-1}>after others</option>
    </select>
  );
}
