import type { SearchAnswer } from '@relay/contract/originals';
import { originalRows } from '@relay/contract/routes/originals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { foundQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { Button, Loading, ProblemLine, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Tick } from '../ui/tick.tsx';
import { sayUndoable } from '../ui/undo.ts';
import { FoundRollFacts } from './foundRoll.tsx';
import { saySearch } from './searchList.tsx';

/** What a search found: what fits and what does not, roll by roll; taken over, and put back. */
export function FoundDocket({ id, onClose }: { id: string; onClose: () => void }) {
  const { data, error } = useQuery(foundQuery(id));
  if (error && !data) return <ProblemLine problem={problemOf(error)} />;
  if (!data) return <Loading what="What was found" rows={4} />;
  const under = data.state === 'waiting' || data.state === 'looking';
  return (
    <section aria-label="What was found" className="flex flex-col gap-4 p-5">
      <h2 className="text-[15px] font-semibold">
        {data.storeName}
        <span className="ml-2 font-mono text-[12px] font-normal break-all text-faint">{data.folder}</span>
      </h2>
      {under ? (
        <p role="status" className="text-dim">
          {data.total === 0
            ? 'Its folders are gone through …'
            : `${data.done} of ${plural(data.total, 'file')} looked at …`}
        </p>
      ) : (
        <p className="text-dim">{saySearch(data)}</p>
      )}
      {data.problem && <ProblemLine problem={data.problem} />}
      {data.rolls.map((roll) => (
        <FoundRollFacts key={`${roll.store} ${roll.folder} ${roll.roll}`} roll={roll} />
      ))}
      {data.state === 'found' && <TakeOver search={data} />}
      {data.state === 'taken' && <PutBack id={id} taken={data.taken} />}
      <div>
        <Button onClick={onClose}>Close</Button>
      </div>
    </section>
  );
}

/** Everything that shows where an original lies. */
const stale = ['originals', 'clips', 'rolls', 'readings', 'outputs', 'stores'] as const;

function useMoved(): () => Promise<unknown> {
  const client = useQueryClient();
  return () => Promise.all(stale.map((key) => client.invalidateQueries({ queryKey: [key] })));
}

function TakeOver({ search: { id, rolls } }: { search: SearchAnswer }) {
  const moved = useMoved();
  const [bySize, say] = useState(false);
  const sum = (of: (roll: SearchAnswer['rolls'][number]) => number): number =>
    rolls.reduce((all, roll) => all + of(roll), 0);
  const [sure, alike] = [sum(({ samples, manifest }) => samples + manifest), sum(({ size }) => size)];
  const count = sure + (bySize ? alike : 0);
  const take = useMutation({
    mutationFn: () => ask(originalRows.take, { search: id, body: { bySize } }),
    onSuccess: async () => {
      await moved();
      sayUndoable(`${plural(count, 'original')} taken over at the new place`, async () => {
        await ask(originalRows.undo, { search: id });
        await moved();
      });
    },
    onError: toastProblem,
  });
  return (
    <div className="flex flex-col gap-2">
      {alike > 0 && (
        <Tick on={bySize} onChange={say}>
          {plural(alike, 'file')} known by name and size alone as well
        </Tick>
      )}
      <div>
        <Button main disabled={count === 0 || take.isPending} onClick={() => take.mutate()}>
          {count === 0 ? 'Nothing to take over' : `Take ${plural(count, 'file')} over`}
        </Button>
      </div>
    </div>
  );
}

function PutBack({ id, taken }: { id: string; taken: number }) {
  const moved = useMoved();
  const undo = useMutation({
    mutationFn: () => ask(originalRows.undo, { search: id }),
    onSuccess: moved,
    onError: toastProblem,
  });
  return (
    <div>
      <Button disabled={undo.isPending} onClick={() => undo.mutate()}>
        Know {taken === 1 ? 'it' : `all ${taken}`} at the place before again
      </Button>
    </div>
  );
}
