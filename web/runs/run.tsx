import { runRows } from '@relay/contract/routes/runs';
import type { LegLine } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import { memberSystems, systemNames, type MemberSystem } from '@relay/core/naming/systemPath';
import { stretches, type TimedLeg } from '@relay/core/size/lanes';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import { runQuery, siteQuery, storesQuery } from '../api/queries.ts';
import { selectLook } from '../corrections/row.tsx';
import { plural, sayClock, saySpan, splitBytes } from '../ui/format.ts';
import { useKeys } from '../ui/keys.tsx';
import { Button, CopyButton, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Lanes } from './lanes.tsx';
import { LegDocket } from './legDocket.tsx';
import { Reels } from './reels.tsx';
import { memberPlace, useMemberSystem } from './memberPlace.ts';

// The chart's library is large: it comes when somebody asks for it.
const Throughput = lazy(() => import('./throughput.tsx').then((m) => ({ default: m.Throughput })));

function timed(leg: LegLine): TimedLeg {
  return {
    id: leg.id,
    samples: Math.max(1, leg.samples),
    startedAt: leg.startedAt ? Date.parse(leg.startedAt) : null,
    endedAt: leg.endedAt ? Date.parse(leg.endedAt) : null,
    share: leg.framesTotal > 0 ? leg.framesDone / leg.framesTotal : 0,
    telling: leg.state === 'proved' || leg.state === 'needs eyes',
    waits: leg.state === 'waiting',
  };
}

/** The clock, a second at a time while something is under way. */
function useNow(ticking: boolean, offset: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!ticking) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [ticking]);
  return now + offset;
}

export function RunPage() {
  const { production = '', run: id = '' } = useParams();
  const client = useQueryClient();
  const go = useNavigate();
  const { data: run, error, refetch, dataUpdatedAt } = useQuery(runQuery(id));
  const { data: stores } = useQuery(storesQuery);
  const { data: site } = useQuery(siteQuery);
  const [system, setSystem] = useMemberSystem();
  // What workers there are take at a time; one lane where none is, so that the night can be seen all the same.
  const slots = Math.max(
    1,
    (site?.workers ?? []).reduce((sum, worker) => sum + worker.slots, 0),
  );
  const [at, setAt] = useState<string | null>(null);
  const [log, setLog] = useState(false);
  const [chart, setChart] = useState(false);
  const legs = useMemo(() => run?.legLines ?? [], [run]);
  const open = legs.some((leg) => openStates.includes(leg.state));
  // The worker's clock may differ from this screen's.
  const offset = run ? Math.max(-1e9, Math.min(1e9, Date.parse(run.now) - dataUpdatedAt)) : 0;
  const now = useNow(open, Math.abs(offset) > 2_000 ? offset : 0);
  const plan = useMemo(
    () => stretches(legs.map(timed), now, slots, site?.quietStretches),
    [legs, now, slots, site?.quietStretches],
  );
  const act = useMutation({
    mutationFn: (order: () => Promise<unknown>) => order(),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run', id] }),
    onError: toastProblem,
  });
  const change = useMutation({
    mutationFn: (said: { priority: number }) => ask(runRows.change, { run: id, body: said }),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run', id] }),
    onError: toastProblem,
  });
  const move = useMutation({
    mutationFn: ({ leg, before }: { leg: string; before: string | null }) =>
      ask(runRows.moveLeg, { leg, body: { before } }),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run', id] }),
    onError: toastProblem,
  });
  const join = useMutation({
    mutationFn: (deliverable: string) => ask(runRows.makeReel, { run: id, body: { deliverable } }),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run', id] }),
    onError: toastProblem,
  });
  const index = legs.findIndex((leg) => leg.id === at);
  const chosen = legs[index];
  const step = (by: number) => () => setAt(legs[Math.min(legs.length - 1, Math.max(0, index + by))]?.id ?? null);
  const waits = chosen !== undefined && (chosen.state === 'waiting' || chosen.state === 'held');
  const canStop = chosen && openStates.includes(chosen.state);
  const canRetry = chosen && (chosen.state === 'failed' || chosen.state === 'stopped');
  /** The chosen leg one place up or down among those that wait. */
  const shift = (by: -1 | 1) => (): void => {
    if (!chosen || !waits) return;
    const others = legs.filter((leg) => leg.wave === chosen.wave && (leg.state === 'waiting' || leg.state === 'held'));
    const place = others.indexOf(chosen);
    if (by < 0 ? place > 0 : place < others.length - 1)
      move.mutate({ leg: chosen.id, before: (by < 0 ? others[place - 1] : others[place + 2])?.id ?? null });
  };
  useKeys({
    '-': shift(-1),
    '+': shift(1),
    ArrowDown: step(1),
    ArrowUp: step(-1),
    Escape: () => setAt(null),
    s: () => {
      if (canStop) act.mutate(() => ask(runRows.stopLeg, { leg: chosen.id }));
    },
    a: () => {
      if (canRetry) act.mutate(() => ask(runRows.retryLeg, { leg: chosen.id }));
    },
    h: () => {
      if (waits)
        act.mutate(() => ask(chosen.state === 'held' ? runRows.releaseLeg : runRows.holdLeg, { leg: chosen.id }));
    },
    f: () => {
      if (waits) act.mutate(() => ask(runRows.firstLeg, { leg: chosen.id }));
    },
    l: () => setLog(!log),
    g: () => setChart(!chart),
    c: () => {
      const output = chosen?.outputs.find((one) => one.state === 'proved' || one.state === 'needs eyes');
      if (output) void go(`/p/${production}/checks/${output.id}`);
    },
  });
  if (error && !run) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!run)
    return (
      <div className="flex-1">
        <Loading what="The run" />
      </div>
    );

  const count = (...states: string[]): number => legs.filter((leg) => states.includes(leg.state)).length;
  const begun = legs
    .map((leg) => leg.startedAt)
    .filter((time): time is string => time !== null)
    .map((time) => Date.parse(time));
  const from = Math.min(...begun, Date.parse(run.createdAt));
  const ends = [...plan.byLeg.values()].map((stretch) => stretch.end);
  const last = Math.max(...ends, open ? now : from + 1000);
  const until = last + Math.max(1000, (last - from) * 0.04);
  const endedAt = run.endedAt ? new Date(run.endedAt) : null;
  const readyAt = open ? (plan.readyAt === null ? null : new Date(plan.readyAt)) : endedAt;
  const material =
    legs
      .filter((leg) => leg.state === 'proved' || leg.state === 'needs eyes')
      .reduce((sum, leg) => sum + leg.seconds, 0) +
    legs
      .filter((leg) => leg.state === 'running')
      .reduce((sum, leg) => sum + (leg.seconds * leg.framesDone) / Math.max(1, leg.framesTotal), 0);
  const spent = ((open ? now : (endedAt?.getTime() ?? now)) - from) / 1000;
  const lookAt = legs.filter((leg) => leg.state === 'needs eyes' || leg.state === 'failed');
  const store = stores?.find((one) => one.id === run.store);
  const placeOf = (path: string): string => memberPlace(store, run.store, `${run.folder}/${path}`, system);
  const place = placeOf('');
  const systems = memberSystems.filter((one) => one === system || store?.elsewhere[one]);
  const [number, unit] = splitBytes(run.bytes);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col pt-5">
        <div className="flex items-start gap-3 px-6">
          <div className="min-w-0 flex-1">
            <h1 className="truncate text-xl font-semibold">
              {run.name}{' '}
              <span className="text-[13px] font-normal text-dim">
                {plural(new Set(legs.map((leg) => leg.clipId)).size, 'clip')} · {run.recipeName} · begun{' '}
                {sayClock(new Date(run.createdAt))}
              </span>
            </h1>
            <p className="flex items-center gap-1 font-mono text-[11px] text-faint">
              <span className="truncate">{place}</span>
              <CopyButton text={place} label="Copy the folder's path" />
              {systems.length > 1 && (
                <select
                  aria-label="Paths as written on"
                  value={system}
                  onChange={(event) => setSystem(event.target.value as MemberSystem)}
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
          </div>
          {count('waiting') > 0 && (
            <Button onClick={() => act.mutate(() => ask(runRows.hold, { run: id }))}>Hold what waits</Button>
          )}
          {count('held') > 0 && (
            <Button
              main={count('waiting', 'running', 'proving') === 0}
              onClick={() => act.mutate(() => ask(runRows.release, { run: id }))}
            >
              Release {plural(count('held'), 'leg')}
            </Button>
          )}
          {count('waiting', 'held') > 0 && (
            <PriorityChoice value={run.priority} onChange={(priority) => change.mutate({ priority })} />
          )}
          <Button aria-expanded={chart} onClick={() => setChart(!chart)}>
            Speed
          </Button>
          {open && <Button onClick={() => act.mutate(() => ask(runRows.stop, { run: id }))}>Stop the run</Button>}
          {count('failed', 'stopped') > 0 && (
            <Button main={!open} onClick={() => act.mutate(() => ask(runRows.retry, { run: id }))}>
              Retry {plural(count('failed', 'stopped'), 'leg')}
            </Button>
          )}
        </div>
        <dl className="flex flex-wrap gap-x-12 gap-y-3 px-6 pt-4 pb-5" aria-live="off">
          <Figure
            name={open ? 'Ready about' : 'Ended'}
            value={readyAt ? sayClock(readyAt, spent < 3600) : '–'}
            note={
              open
                ? run.notBefore && Date.parse(run.notBefore) > now
                  ? `begins ${sayClock(new Date(run.notBefore))}`
                  : plan.readyAt
                    ? `in ${saySpan((plan.readyAt - now) / 1000)}`
                    : count('held') > 0 && count('waiting', 'running', 'proving') === 0
                      ? `${plural(count('held'), 'leg')} held`
                      : 'told when the first leg is on its way'
                : `after ${saySpan(spent)}`
            }
          />
          {run.wantedBy && (
            <Figure
              name="Wanted by"
              value={sayClock(new Date(run.wantedBy))}
              note={sayWanted(Date.parse(run.wantedBy), readyAt?.getTime() ?? null)}
              tone={readyAt && readyAt.getTime() > Date.parse(run.wantedBy) ? 'amber' : undefined}
            />
          )}
          <Figure name="Proved" value={String(count('proved'))} note={`of ${plural(legs.length, 'leg')}`} />
          <Figure
            name="Made"
            value={`${number} ${unit}`}
            note={plural(
              legs.reduce((sum, leg) => sum + leg.outputs.filter((output) => output.sizeBytes > 0).length, 0),
              'output',
            )}
          />
          <Figure
            name="Speed"
            value={spent > 1 && material > 0 ? `${(material / spent).toFixed(2)}×` : '–'}
            note="of real time"
          />
          <Figure
            name="To look at"
            value={String(lookAt.length)}
            note={lookAt.length === 0 ? 'nothing' : [...new Set(lookAt.map((leg) => leg.state))].join(', ')}
            onClick={lookAt[0] ? () => setAt(lookAt[0]?.id ?? null) : undefined}
          />
        </dl>
        {run.lacks && (
          <p role="note" className="mx-6 mb-4 flex items-baseline gap-2">
            <span aria-hidden className="size-2 shrink-0 rotate-45 bg-amber" />
            <span>
              {run.lacks}.{' '}
              <span className="text-dim">
                Legs wait until one is there;{' '}
                <Link to="/site" className="underline underline-offset-4 hover:text-ink">
                  Site
                </Link>{' '}
                shows them.
              </span>
            </span>
          </p>
        )}
        <Reels run={run} placeOf={placeOf} onJoin={(deliverable) => join.mutate(deliverable)} />
        {chart && (
          <Suspense fallback={<div className="h-[150px]" />}>
            <Throughput legs={legs} now={open ? now : 0} />
          </Suspense>
        )}
        <Lanes
          legs={legs}
          stretches={plan.byLeg}
          from={from}
          until={until}
          now={open ? now : 0}
          at={at}
          onAt={setAt}
          onMove={(leg, before) => move.mutate({ leg, before })}
        />
      </div>
      {chosen && (
        <aside aria-label="Docket" className="w-[360px] shrink-0 overflow-auto border-l border-line bg-raised/40">
          <LegDocket
            line={chosen}
            production={production}
            placeOf={placeOf}
            leftSeconds={
              chosen.state === 'running' ? Math.max(0, ((plan.byLeg.get(chosen.id)?.end ?? now) - now) / 1000) : null
            }
            log={log}
            onLog={() => setLog(!log)}
            onHold={
              waits
                ? () =>
                    act.mutate(() =>
                      ask(chosen.state === 'held' ? runRows.releaseLeg : runRows.holdLeg, { leg: chosen.id }),
                    )
                : null
            }
            onFirst={waits ? () => act.mutate(() => ask(runRows.firstLeg, { leg: chosen.id })) : null}
            onStop={() => act.mutate(() => ask(runRows.stopLeg, { leg: chosen.id }))}
            onRetry={() => act.mutate(() => ask(runRows.retryLeg, { leg: chosen.id }))}
          />
        </aside>
      )}
    </>
  );
}

/** How the likely end stands to the hour that was asked for. */
function sayWanted(wanted: number, ready: number | null): string {
  if (ready === null) return 'not known yet';
  return ready <= wanted ? `${saySpan((wanted - ready) / 1000)} to spare` : `${saySpan((ready - wanted) / 1000)} late`;
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

function Figure({
  name,
  value,
  note,
  tone,
  onClick,
}: {
  name: string;
  value: string;
  note: string;
  tone?: 'amber' | undefined;
  onClick?: (() => void) | undefined;
}) {
  return (
    <div>
      <dt className="text-dim">{name}</dt>
      <dd className="font-mono text-[22px] leading-7">
        {onClick ? (
          <button type="button" className="underline decoration-line underline-offset-4" onClick={onClick}>
            {value}
          </button>
        ) : (
          value
        )}
      </dd>
      <dd className={`text-[12px] ${tone === 'amber' ? 'text-amber' : 'text-faint'}`}>{note}</dd>
    </div>
  );
}
