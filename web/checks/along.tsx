import type { MeasuringAnswer } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { addressOf, ask } from '../api/client.ts';
import { measuringQuery, outputQuery } from '../api/queries.ts';
import { NumberField } from '../ui/numberField.tsx';
import { blocks, Button, Empty, Loading, ProblemLine, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Found } from './alongFound.tsx';

/** What was measured of an output along its length: drawn over time, the worst frames as pictures; for paper too. */
export function AlongPage() {
  const { production = '', output: id = '' } = useParams();
  const { data: output, error, refetch } = useQuery(outputQuery(id));
  const { data: answer, error: unmeasured, refetch: askAgain } = useQuery(measuringQuery(id));
  const failed = error ?? unmeasured;
  if (failed && (blocks(failed, output) || blocks(failed, answer)))
    return <ProblemNote problem={problemOf(failed)} again={() => void Promise.all([refetch(), askAgain()])} />;
  if (!output || !answer)
    return (
      <div className="flex-1">
        <Loading what="What was measured" />
      </div>
    );
  const { measuring } = answer;
  return (
    <div className="min-w-0 flex-1 overflow-auto print:overflow-visible">
      <article className="mx-auto flex w-full max-w-5xl flex-col gap-5 px-6 py-5">
        <header className="flex flex-col gap-2">
          <p className="text-dim">
            <Link to={`/p/${production}/checks`} className="hover:text-ink print:hidden">
              Checks
            </Link>
            <span aria-hidden className="mx-2 text-faint print:hidden">
              ›
            </span>
            <Link to={`/p/${production}/checks/${id}`} className="hover:text-ink">
              {output.original.stem}
            </Link>
          </p>
          <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
            <h1 className="min-w-0 text-lg font-semibold break-words">
              {output.deliverable} along its length{' '}
              <span className="block font-mono text-[12px] font-normal break-all text-dim">{output.path}</span>
            </h1>
            <Order id={id} answer={answer} />
          </div>
        </header>
        {measuring?.problem && <ProblemLine problem={measuring.problem} />}
        {measuring?.stale && (
          <p role="status">It was made anew since it was measured: measure it again for what it is now.</p>
        )}
        {measuring?.along ? (
          <Found production={production} output={output} measuring={measuring} along={measuring.along} />
        ) : (
          !measuring && (
            <Empty title="Not measured yet">
              <p>
                A worker holds its pictures against the original, brought through every step of its plan, and draws how
                like they are, how far its colours are from its chain's, both levels and loudnesses, and both data
                rates.
              </p>
            </Empty>
          )
        )}
      </article>
    </div>
  );
}

/** Orders it, says how far it is, and gives it up. */
function Order({ id, answer: { frames, measuring } }: { id: string; answer: MeasuringAnswer }) {
  const client = useQueryClient();
  const [every, setEvery] = useState<number | null>(null);
  const step = every ?? measuring?.every ?? Math.max(1, Math.ceil(frames / 20_000));
  const done = (): Promise<void> => client.invalidateQueries({ queryKey: ['measuring', id] });
  const measure = useMutation({
    mutationFn: () => ask(checkRows.measure, { output: id, body: { every: step } }),
    onSuccess: done,
    onError: toastProblem,
  });
  const drop = useMutation({
    mutationFn: () => ask(checkRows.dropMeasuring, { output: id }),
    onSuccess: done,
    onError: toastProblem,
  });
  const open = measuring?.state === 'waiting' || measuring?.state === 'running';
  if (open)
    return (
      <span className="ml-auto flex items-center gap-3 print:hidden">
        <span role="status" className="font-mono">
          {measuring.state === 'waiting'
            ? 'waits for a worker'
            : measuring.framesDone >= frames
              ? 'colours and sound'
              : `${measuring.framesDone} of ${frames} frames`}
        </span>
        <progress className="w-32 accent-teal" max={frames} value={measuring.framesDone} aria-label="Measured" />
        <Button onClick={() => drop.mutate()}>Give up</Button>
      </span>
    );
  return (
    <form
      className="ml-auto flex items-end gap-2 print:hidden"
      onSubmit={(event) => {
        event.preventDefault();
        measure.mutate();
      }}
    >
      <span className="pb-1.5 text-dim">Measure one frame of every</span>
      <NumberField
        label="Measure one frame of every"
        value={step}
        least={1}
        most={100_000}
        whole
        className="w-24!"
        onChange={(value) => setEvery(value)}
      />
      <Button type="submit" main disabled={measure.isPending}>
        {measuring?.along ? 'Measure again' : 'Measure'}
      </Button>
      {measuring?.along && (
        <>
          <a
            className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
            download
            href={addressOf(checkRows.measuredCsv, { output: id })}
          >
            CSV
          </a>
          <Button type="button" onClick={() => window.print()}>
            Print
          </Button>
        </>
      )}
    </form>
  );
}
