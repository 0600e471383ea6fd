import type { RollLine } from '@relay/contract/arrivals';
import type { ReadingAnswer } from '@relay/contract/arrivals';
import type { HandedAnswer, HandedLine } from '@relay/contract/handoffs';
import type { LiveMessage } from '@relay/contract/live';
import type { RunAnswer } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { inOrder } from '../runs/order.ts';
import { noteAway, noteThere } from './reach.ts';
import { inletEnded, legEnded, sayInletEnd } from '../ui/notices.ts';
import { runRows } from '@relay/contract/routes/runs';
import { siteRows } from '@relay/contract/routes/site';
import { addressOf, ask } from './client.ts';

/** Questions whose answers a finished leg or a changed list makes stale. */
const overviews = ['productions', 'runs', 'outputs', 'handoffs', 'site', 'clips', 'inlets'];

/** Questions whose answers are stale once something changed. */
function staleAfter(what: Extract<LiveMessage, { kind: 'changed' }>['what']): readonly string[] {
  // What waits in an inlet changes every second, and nothing else with it.
  if (what === 'inlets') return ['inlets'];
  if (what === 'cuts') return ['cuts', 'rehearsal'];
  if (what === 'originals' || what === 'space') return [what];
  if (what === 'handoffs') return ['handoffs', 'productions'];
  return [
    ...overviews,
    ...(what === 'stores' ? ['stores', 'roots', 'bay', 'folders', 'originals'] : []),
    ...(what === 'runs' || what === 'productions' ? ['run', 'leg', 'check sheet', 'measuring'] : []),
    'rehearsal',
    'readings',
    'rolls',
    'card',
  ];
}

/**
 * Lays a message from the server into the answers that are kept, so that open pages show it at once. `legSoon` asks for
 * a leg of a run anew.
 */
export function lay(
  client: QueryClient,
  message: LiveMessage,
  refreshSoon: (key: readonly string[]) => void,
  legSoon: (run: string, leg: string) => void,
): void {
  switch (message.kind) {
    case 'leg': {
      const run = client.getQueryData<RunAnswer>(['run', message.run]);
      const before = run?.legLines.find((leg) => leg.id === message.leg);
      if (run && before) {
        const { state, framesDone, framesTotal, speed } = message;
        const legLines = run.legLines.map((leg) =>
          leg.id === message.leg
            ? { ...leg, state, framesDone, framesTotal: framesTotal || leg.framesTotal, speed }
            : leg,
        );
        client.setQueryData<RunAnswer>(['run', message.run], { ...run, legLines });
      }
      if (before && before.state !== message.state && !openStates.includes(message.state))
        legEnded(before.stem, message.state);
      if (!before || before.state !== message.state) {
        if (before) legSoon(message.run, message.leg);
        else refreshSoon(['run', message.run]);
        refreshSoon(['leg', message.leg]);
        overviews.forEach((key) => refreshSoon([key]));
      } else if (openStates.includes(message.state)) refreshSoon(['site']);
      return;
    }
    case 'reading':
      client.setQueryData<ReadingAnswer[]>(['readings', message.production], (all) =>
        all?.map((one) =>
          one.id === message.reading ? { ...one, done: message.done, total: message.total, state: message.state } : one,
        ),
      );
      refreshSoon(['clips', message.production]);
      if (message.state !== 'running') refreshSoon(['readings', message.production]);
      return;
    case 'roll': {
      const { state, files, filesDone, bytes, bytesDone } = message;
      client.setQueryData<RollLine[]>(['rolls', message.production], (all) =>
        all?.map((roll) =>
          roll.id === message.roll
            ? { ...roll, state, filesDone, bytesDone, files: files || roll.files, bytes: bytes || roll.bytes }
            : roll,
        ),
      );
      return;
    }
    case 'handoff': {
      const { state, files, filesDone, bytes, bytesDone } = message;
      const now = { state, files, filesDone, bytes, bytesDone };
      client.setQueryData<HandedLine[]>(['handoffs', message.production, 'handed'], (all) =>
        all?.map((line) => (line.id === message.handoff ? { ...line, ...now } : line)),
      );
      client.setQueryData<HandedAnswer>(['handoffs', 'one', message.handoff], (one) => one && { ...one, ...now });
      return;
    }
    case 'inlet':
      refreshSoon(['inlets']);
      return;
    case 'changed':
      for (const key of staleAfter(message.what)) refreshSoon([key]);
  }
}

/** So many legs that changed at once are still asked for one by one; more, and the run is asked for whole. */
const mostSingly = 100;

/**
 * Asks for some legs of a run and lays them into what is kept of it: a run of thousands is not fetched anew for each
 * leg that ends.
 */
export async function refreshLegs(
  client: QueryClient,
  run: string,
  legs: readonly string[],
  legsOf: (run: string, legs: string) => Promise<RunAnswer> = (id, some) =>
    ask(runRows.run, { run: id, query: { legs: some } }),
): Promise<void> {
  const key = ['run', run];
  const found =
    legs.length <= mostSingly && client.getQueryData(key) ? await legsOf(run, legs.join(',')).catch(() => null) : null;
  const before = client.getQueryData<RunAnswer>(key);
  if (!found || !before) return client.invalidateQueries({ queryKey: key });
  const changed = new Map(found.legLines.map((leg) => [leg.id, leg]));
  client.setQueryData<RunAnswer>(key, {
    ...found,
    legLines: inOrder(before.legLines.map((leg) => changed.get(leg.id) ?? leg)),
  });
}

type InletEnded = Extract<LiveMessage, { kind: 'inlet' }>;

/** Keeps the one line to the server open while the page is; many changes at once are fetched once. */
export function useLive(): void {
  const client = useQueryClient();
  const navigate = useNavigate();
  const sayEnded = useRef<(ended: InletEnded) => void>(() => undefined);
  useEffect(() => {
    sayEnded.current = ({ name, production, inlet, ...counts }) => {
      inletEnded(name, counts);
      const look = (): void => void navigate(`/p/${production}/arrivals/inlets?inlet=${inlet}`);
      toast(name, { description: sayInletEnd(counts), action: { label: 'Look', onClick: look } });
    };
  }, [navigate]);
  useEffect(() => {
    const waiting = new Map<string, readonly string[]>();
    const legs = new Map<string, Set<string>>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    const soon = (): void => {
      timer ??= setTimeout(() => {
        timer = null;
        const [keys, changed] = [[...waiting.values()], [...legs]];
        waiting.clear();
        legs.clear();
        keys.forEach((queryKey) => void client.invalidateQueries({ queryKey }));
        changed.forEach(([run, ids]) => void refreshLegs(client, run, [...ids]));
      }, 400);
    };
    const refreshSoon = (key: readonly string[]): void => {
      waiting.set(key.join(' '), key);
      soon();
    };
    const legSoon = (run: string, leg: string): void => {
      legs.set(run, (legs.get(run) ?? new Set()).add(leg));
      soon();
    };
    const line = new EventSource(addressOf(siteRows.live));
    line.onmessage = (event: MessageEvent<string>) => {
      const message = JSON.parse(event.data) as LiveMessage;
      lay(client, message, refreshSoon, legSoon);
      if (message.kind === 'inlet') sayEnded.current(message);
    };
    // After a gap everything shown may be old.
    let wasOpen = false;
    line.onerror = noteAway;
    line.onopen = () => {
      noteThere();
      if (wasOpen) void client.invalidateQueries();
      wasOpen = true;
    };
    return () => {
      line.close();
      if (timer) clearTimeout(timer);
    };
  }, [client]);
}
