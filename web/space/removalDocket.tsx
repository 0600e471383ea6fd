import type { RemovalAnswer, RemovalItem } from '@relay/contract/space';
import { spaceRows } from '@relay/contract/routes/space';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { removalQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { Button, Bytes, Loading, ProblemLine, problemOf, toastProblem } from '../ui/pieces.tsx';
import { sayRemoval } from './removalList.tsx';

/** So many lines are drawn. */
const shown = 500;

/** One deletion: what went, what was left and why, and what of it came back. */
export function RemovalDocket({ id, onClose }: { id: string; onClose: () => void }) {
  const { data, error } = useQuery(removalQuery(id));
  if (error && !data) return <ProblemLine problem={problemOf(error)} />;
  if (!data) return <Loading what="What went" rows={4} />;
  const left = data.items.filter(({ state }) => state === 'left');
  const gone = data.items.filter(({ state }) => state !== 'left');
  return (
    <section aria-label="What went" className="flex flex-col gap-4 p-5">
      <h2 className="text-[15px] font-semibold break-words">{data.says}</h2>
      <p role="status" className="text-dim">
        {sayRemoval(data)}
      </p>
      {data.problem && <ProblemLine problem={data.problem} />}
      <Actions removal={data} onClose={onClose} />
      {left.length > 0 && <Items title={`Left: ${left.length}`} items={left} />}
      {gone.length > 0 && <Items title={plural(gone.length, 'file')} items={gone} />}
    </section>
  );
}

function Actions({ removal, onClose }: { removal: RemovalAnswer; onClose: () => void }) {
  const client = useQueryClient();
  const { id, state, items } = removal;
  const refresh = (): Promise<unknown> =>
    Promise.all(['space', 'outputs', 'runs', 'handoffs'].map((key) => client.invalidateQueries({ queryKey: [key] })));
  const act = (row: typeof spaceRows.stopRemoval | typeof spaceRows.resumeRemoval) => ({
    mutationFn: () => ask(row, { removal: id }),
    onSuccess: refresh,
    onError: toastProblem,
  });
  const stop = useMutation(act(spaceRows.stopRemoval));
  const goOn = useMutation(act(spaceRows.resumeRemoval));
  const again = useMutation({
    mutationFn: () => ask(spaceRows.comeBack, { removal: id, body: { places: [] } }),
    onSuccess: async ({ files }) => {
      toast(`${plural(files, 'file')} ${files === 1 ? 'is' : 'are'} made again`, {
        description: 'They stand under Runs.',
      });
      await refresh();
    },
    onError: toastProblem,
  });
  const able = items.filter(
    (item) => item.state === 'gone' && item.canComeBack && (item.back ?? 'failed') === 'failed',
  );
  const under = state === 'waiting' || state === 'removing';
  return (
    <div className="flex flex-wrap gap-2">
      {under && (
        <Button disabled={stop.isPending} onClick={() => stop.mutate()}>
          Stop
        </Button>
      )}
      {(state === 'stopped' || state === 'failed') &&
        items.some(({ state: one }) => one === 'waiting' || one === 'going') && (
          <Button disabled={goOn.isPending} onClick={() => goOn.mutate()}>
            Go on
          </Button>
        )}
      {!under && able.length > 0 && (
        <Button disabled={again.isPending} onClick={() => again.mutate()}>
          Make {plural(able.length, 'file')} again
        </Button>
      )}
      <Button onClick={onClose}>Close</Button>
    </div>
  );
}

function sayItem({ state, why, back, canComeBack }: RemovalItem): string {
  if (state === 'left') return why;
  if (state !== 'gone') return 'not yet';
  if (back !== null) return back === 'is made' ? 'is made again' : `made again: ${back}`;
  return canComeBack ? '' : 'an older version, not made again';
}

function Items({ title, items }: { title: string; items: readonly RemovalItem[] }) {
  return (
    <section aria-label={title}>
      <h3 className="text-dim">{title}</h3>
      <ul>
        {items.slice(0, shown).map((item) => (
          <li
            key={item.place}
            className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1.5 text-[12px]"
          >
            <span className="min-w-0 flex-1 font-mono break-all">{item.path}</span>
            <Bytes value={item.sizeBytes} />
            {sayItem(item) !== '' && <span className="w-full break-words text-dim">{sayItem(item)}</span>}
          </li>
        ))}
      </ul>
      {items.length > shown && <p className="text-faint">and {items.length - shown} more</p>}
    </section>
  );
}
