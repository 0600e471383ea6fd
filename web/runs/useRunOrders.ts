import { runRows } from '@relay/contract/routes/runs';
import type { LegLine } from '@relay/contract/runs';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { ask } from '../api/client.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { sayUndoable } from '../ui/undo.ts';

/** What can be ordered of a run and its legs; the page shows what came of it. */
export interface RunOrders {
  hold: () => void;
  release: () => void;
  stop: () => void;
  remove: () => Promise<unknown>;
  retry: () => void;
  prioritise: (priority: number) => void;
  join: (deliverable: string) => void;
  /** Puts a leg before another, or behind all for null. */
  move: (leg: string, before: string | null) => void;
  /** Holds a leg that waits, or releases one that is held. */
  holdOrRelease: (leg: LegLine) => void;
  first: (leg: LegLine) => void;
  stopLeg: (leg: LegLine) => void;
  retryLeg: (leg: LegLine) => void;
}

export function useRunOrders(run: string): RunOrders {
  const client = useQueryClient();
  const { mutate } = useMutation({
    mutationFn: (order: () => Promise<unknown>) => order(),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run', run] }),
    onError: toastProblem,
  });
  const goOn = (): Promise<unknown> =>
    ask(runRows.retry, { run }).then(() => client.invalidateQueries({ queryKey: ['run', run] }));
  return {
    hold: () => mutate(() => ask(runRows.hold, { run })),
    release: () => mutate(() => ask(runRows.release, { run })),
    stop: () =>
      mutate(async () => {
        await ask(runRows.stop, { run });
        sayUndoable('The run is stopped', goOn, 'What was proved stays; legs that were under way would begin again.');
      }),
    remove: () => ask(runRows.remove, { run }),
    retry: () => mutate(() => ask(runRows.retry, { run })),
    prioritise: (priority) => mutate(() => ask(runRows.change, { run, body: { priority } })),
    join: (deliverable) => mutate(() => ask(runRows.makeJoinedCopy, { run, body: { deliverable } })),
    move: (leg, before) => mutate(() => ask(runRows.moveLeg, { leg, body: { before } })),
    holdOrRelease: ({ id: leg, state }) =>
      mutate(() => ask(state === 'held' ? runRows.releaseLeg : runRows.holdLeg, { leg })),
    first: ({ id: leg }) => mutate(() => ask(runRows.firstLeg, { leg })),
    stopLeg: ({ id: leg }) => mutate(() => ask(runRows.stopLeg, { leg })),
    retryLeg: ({ id: leg }) => mutate(() => ask(runRows.retryLeg, { leg })),
  };
}
