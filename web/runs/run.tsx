import type { StoreAnswer } from '@relay/contract/site';
import type { LegLine, RunAnswer } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import type { MemberSystem } from '@relay/core/naming/systemPath';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { runQuery, storesQuery } from '../api/queries.ts';
import { LevelNote } from '../ui/levelMark.tsx';
import { useKeys } from '../ui/keys.ts';
import { blocks, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { Lanes } from './lanes.tsx';
import { LegDocket } from './legDocket.tsx';
import { memberPlace, useMemberSystem, type PlaceOf } from '../ui/memberPlace.ts';
import { JoinedCopies } from './joinedCopies.tsx';
import { placeBeside, runFigures, type NightPlan } from './runFigures.ts';
import { RunFigureList } from './runFigureList.tsx';
import { RunHead } from './runHead.tsx';
import { useRunOrders, type RunOrders } from './useRunOrders.ts';
import { useRunPlan } from './useRunPlan.ts';
import { docketWidth } from '../ui/docketWidth.ts';

// The chart's library is large: it comes when somebody asks for it.
const Throughput = lazy(() => import('./throughput.tsx').then((m) => ({ default: m.Throughput })));

function waits({ state }: LegLine): boolean {
  return state === 'waiting' || state === 'held';
}

export function RunPage() {
  const { run: id = '' } = useParams();
  const { data: run, error, refetch, dataUpdatedAt } = useQuery(runQuery(id));
  const { plan, now } = useRunPlan(run, dataUpdatedAt);
  if (error && blocks(error, run)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!run)
    return (
      <div className="flex-1">
        <Loading what="The run" />
      </div>
    );
  return <Run run={run} plan={plan} now={now} />;
}

/** Where outputs of a run lie, as this member's machine writes it. */
function usePlaces(run: RunAnswer): {
  placeOf: PlaceOf;
  system: MemberSystem;
  known: MemberSystem[];
  onSystem: (system: MemberSystem) => void;
} {
  const { data: stores } = useQuery(storesQuery);
  const [system, onSystem] = useMemberSystem();
  const storeOf = (id: string): StoreAnswer | undefined => stores?.find((one) => one.id === id);
  return {
    placeOf: (path, deliverable) => {
      const place = run.places.find((one) => one.deliverable === deliverable) ?? run;
      return memberPlace(storeOf(place.store), place.store, `${place.folder}/${path}`, system);
    },
    system,
    known: [run, ...run.places].flatMap(({ store }) => Object.keys(storeOf(store)?.elsewhere ?? {}) as MemberSystem[]),
    onSystem,
  };
}

interface RunShown {
  run: RunAnswer;
  plan: NightPlan;
  now: number;
}

function Run({ run, plan, now }: RunShown) {
  const { production = '' } = useParams();
  const go = useNavigate();
  const legs = run.legLines;
  const [at, setAt] = useState<string | null>(null);
  const [log, setLog] = useState(false);
  const [chart, setChart] = useState(false);
  const orders = useRunOrders(run.id);
  const figures = runFigures(run, plan, now);
  const { placeOf, ...shown } = usePlaces(run);
  const chosen = legs.find((leg) => leg.id === at);
  const clock = figures.open ? now : 0;
  useRunKeys({ legs, chosen, orders, onAt: setAt, onLog: () => setLog(!log), onChart: () => setChart(!chart) });
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col pt-5">
        <RunHead
          run={run}
          figures={figures}
          orders={orders}
          place={{ paths: [placeOf(''), ...run.places.map((one) => placeOf('', one.deliverable))], ...shown }}
          chart={chart}
          onChart={() => setChart(!chart)}
          onRemoved={() => void go(`/p/${production}/runs`)}
        />
        <RunFigureList run={run} figures={figures} now={now} onLookAt={setAt} />
        {run.lacks && <Lacks what={run.lacks} />}
        <JoinedCopies run={run} placeOf={placeOf} onJoin={orders.join} />
        {chart && (
          <Suspense fallback={<div className="h-[150px]" />}>
            <Throughput legs={legs} now={clock} />
          </Suspense>
        )}
        <Lanes
          legs={legs}
          stretches={plan.byLeg}
          from={figures.from}
          until={figures.until}
          now={clock}
          at={at}
          onAt={setAt}
          onMove={orders.move}
        />
      </div>
      {chosen && (
        <aside
          aria-label="Docket"
          className={`${docketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          <LegDocket
            line={chosen}
            production={production}
            placeOf={placeOf}
            leftSeconds={secondsLeft(chosen, plan, now)}
            log={log}
            onLog={() => setLog(!log)}
            onHold={waits(chosen) ? () => orders.holdOrRelease(chosen) : null}
            onFirst={waits(chosen) ? () => orders.first(chosen) : null}
            onStop={() => orders.stopLeg(chosen)}
            onRetry={() => orders.retryLeg(chosen)}
          />
        </aside>
      )}
    </>
  );
}

/** Seconds until a leg that is made now is likely to end; null for others. */
function secondsLeft({ id, state }: LegLine, plan: NightPlan, now: number): number | null {
  return state === 'running' ? Math.max(0, ((plan.byLeg.get(id)?.end ?? now) - now) / 1000) : null;
}

interface RunKeys {
  legs: readonly LegLine[];
  chosen: LegLine | undefined;
  orders: RunOrders;
  onAt: (leg: string | null) => void;
  onLog: () => void;
  onChart: () => void;
}

/** What keys do on a run's page: go from leg to leg, and order what can be ordered of the chosen one. */
function useRunKeys({ legs, chosen, orders, onAt, onLog, onChart }: RunKeys): void {
  const { production = '' } = useParams();
  const go = useNavigate();
  const index = chosen ? legs.indexOf(chosen) : -1;
  const step = (by: number) => () => onAt(legs[Math.min(legs.length - 1, Math.max(0, index + by))]?.id ?? null);
  /** Does something with the chosen leg, where it is such a one. */
  const where = (fits: (leg: LegLine) => boolean, order: (leg: LegLine) => void) => (): void => {
    if (chosen && fits(chosen)) order(chosen);
  };
  const shift = (by: -1 | 1) =>
    where(waits, (leg) => {
      const before = placeBeside(legs, leg, by);
      if (before !== undefined) orders.move(leg.id, before);
    });
  useKeys({
    '-': shift(-1),
    '+': shift(1),
    ArrowDown: step(1),
    ArrowUp: step(-1),
    Escape: () => onAt(null),
    s: where(({ state }) => openStates.includes(state), orders.stopLeg),
    a: where(({ state }) => state === 'failed' || state === 'stopped', orders.retryLeg),
    h: where(waits, orders.holdOrRelease),
    f: where(waits, orders.first),
    l: onLog,
    g: onChart,
    c: () => {
      const output = chosen?.outputs.find((one) => one.state === 'proved' || one.state === 'needs eyes');
      if (output) void go(`/p/${production}/checks/${output.id}`);
    },
  });
}

/** What legs that wait lack: no worker that is there can take them. */
function Lacks({ what }: { what: string }) {
  return (
    <LevelNote className="mx-6 mb-4">
      {what}.{' '}
      <span className="text-dim">
        Legs wait until one is there;{' '}
        <Link to="/site" className="underline underline-offset-4 hover:text-ink">
          Site
        </Link>{' '}
        shows them.
      </span>
    </LevelNote>
  );
}
