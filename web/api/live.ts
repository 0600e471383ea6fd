import type { RollLine } from '@relay/contract/arrivals';
import type { LiveMessage, ReadingAnswer, RunAnswer } from '@relay/contract/api';
import { openStates } from '@relay/contract/api';
import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { legEnded } from '../ui/notices.ts';

/** Questions whose answers a finished leg or a changed list makes stale. */
const overviews = ['productions', 'runs', 'outputs', 'handoffs', 'site', 'clips'];

/** Lays a message from the server into the answers that are kept, so that open pages show it at once. */
export function lay(client: QueryClient, message: LiveMessage, refreshSoon: (key: readonly string[]) => void): void {
  switch (message.kind) {
    case 'leg': {
      const run = client.getQueryData<RunAnswer>(['run', message.run]);
      const before = run?.legLines.find((leg) => leg.id === message.leg);
      if (run && before) {
        const { state, framesDone, framesTotal, speed } = message;
        const legLines = run.legLines.map((leg) => (leg.id === message.leg ? { ...leg, state, framesDone, framesTotal: framesTotal || leg.framesTotal, speed } : leg));
        client.setQueryData<RunAnswer>(['run', message.run], { ...run, legLines });
      }
      if (before && before.state !== message.state && !openStates.includes(message.state)) legEnded(before.stem, message.state);
      if (!before || before.state !== message.state) {
        refreshSoon(['run', message.run]);
        refreshSoon(['leg', message.leg]);
        overviews.forEach((key) => refreshSoon([key]));
      } else if (openStates.includes(message.state)) refreshSoon(['site']);
      return;
    }
    case 'reading':
      client.setQueryData<ReadingAnswer[]>(['readings', message.production], (all) =>
        all?.map((one) => (one.id === message.reading ? { ...one, done: message.done, total: message.total, state: message.state } : one)));
      refreshSoon(['clips', message.production]);
      if (message.state !== 'running') refreshSoon(['readings', message.production]);
      return;
    case 'roll': {
      const { state, files, filesDone, bytes, bytesDone } = message;
      client.setQueryData<RollLine[]>(['rolls', message.production], (all) => all?.map((roll) => (roll.id === message.roll ? { ...roll, state, filesDone, bytesDone, files: files || roll.files, bytes: bytes || roll.bytes } : roll)));
      return;
    }
    case 'changed':
      for (const key of [...overviews, 'run', 'readings', 'rolls', 'card']) refreshSoon([key]);
  }
}

/** Keeps the one line to the server open while the page is; many changes at once are fetched once. */
export function useLive(): void {
  const client = useQueryClient();
  useEffect(() => {
    const waiting = new Map<string, readonly string[]>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    const refreshSoon = (key: readonly string[]): void => {
      waiting.set(key.join(' '), key);
      timer ??= setTimeout(() => {
        timer = null;
        const keys = [...waiting.values()];
        waiting.clear();
        keys.forEach((queryKey) => void client.invalidateQueries({ queryKey }));
      }, 400);
    };
    const line = new EventSource('/api/live');
    line.onmessage = (event: MessageEvent<string>) => lay(client, JSON.parse(event.data) as LiveMessage, refreshSoon);
    // After a gap everything shown may be old.
    let wasOpen = false;
    line.onopen = () => {
      if (wasOpen) void client.invalidateQueries();
      wasOpen = true;
    };
    return () => {
      line.close();
      if (timer) clearTimeout(timer);
    };
  }, [client]);
}
