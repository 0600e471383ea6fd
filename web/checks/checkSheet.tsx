import type { CheckSheet } from '@relay/contract/checkSheet';
import { checkRows } from '@relay/contract/routes/checks';
import { sayRule, type CheckRule } from '@relay/core/checks/checkSheet';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { checkSheetQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Button, Empty, Key, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { usePrint } from '../ui/usePrint.ts';
import { isMade, SheetRow, type SheetLine } from './sheetLine.tsx';
import { SheetRule } from './sheetRule.tsx';

/** Lines that are drawn at first, and more when they are asked for: thousands would take seconds. */
const atOnce = 200;

/** What of a run is to be looked at: by its rule, with what was said of each; for paper too. */
export function CheckSheetPage() {
  const { run = '', production = '' } = useParams();
  const { data: sheet, error, refetch } = useQuery(checkSheetQuery(run));
  const [shown, setShown] = useState(atOnce);
  const { whole, coming, print } = usePrint();
  if (error && blocks(error, sheet)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!sheet)
    return (
      <div className="flex-1">
        <Loading what="The check sheet" />
      </div>
    );
  return (
    <div className="min-w-0 flex-1 overflow-auto print:overflow-visible">
      <article className="mx-auto flex w-full max-w-5xl flex-col gap-4 px-6 py-5">
        <header className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <div className="min-w-0">
            <p className="text-dim">
              <Link to={`/p/${production}/runs/${run}`} className="hover:text-ink">
                {sheet.name}
              </Link>
            </p>
            <h1 className="text-lg font-semibold">Check sheet</h1>
          </div>
          <span className="ml-auto flex items-center gap-2 print:hidden">
            <Link
              to={`/p/${production}/runs/${run}/contact-sheet`}
              className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
            >
              Contact sheet
            </Link>
            <Button disabled={coming} onClick={() => void print()}>
              {coming ? 'Pictures come …' : 'Print'}
            </Button>
          </span>
        </header>
        <p role="status" className="text-[15px]">
          {sayState(sheet)}
        </p>
        <p className="hidden print:block">{sayRule(sheet.rule)}</p>
        <section aria-label="What is to be looked at" className="rounded-lg border border-line px-4 py-3 print:hidden">
          <SheetRule run={run} sheet={sheet} />
        </section>
        {sheet.lines.length === 0 ? (
          <Empty title="Nothing is asked for">
            <p>
              {sheet.outputs === 0
                ? 'The run has made nothing yet: what it makes stands here as soon as it is there.'
                : 'The rule above chooses none of its outputs, and none needs eyes.'}
            </p>
          </Empty>
        ) : (
          <>
            <Lines
              run={run}
              production={production}
              lines={whole ? sheet.lines : sheet.lines.slice(0, shown)}
              rule={sheet.rule}
              eager={whole}
            />
            {!whole && sheet.lines.length > shown && (
              <Button className="self-center" onClick={() => setShown(shown + atOnce)}>
                Show more: {sheet.lines.length - shown} are left
              </Button>
            )}
          </>
        )}
      </article>
    </div>
  );
}

function sayState({ state: { asked, accepted, sentBack, met }, outputs, ended }: CheckSheet): string {
  const said = [
    `${accepted} of ${asked} accepted`,
    ...(sentBack > 0 ? [`${sentBack} sent back`] : []),
    `${plural(outputs, 'output')} in all`,
  ].join(', ');
  if (met) return `Looked at: ${said}.`;
  return `${asked === 0 ? 'Nothing to look at' : 'Not looked at yet'}: ${said}${ended ? '' : '; the run is not done'}.`;
}

interface LinesProps {
  run: string;
  production: string;
  lines: readonly SheetLine[];
  rule: CheckRule;
  /** All pictures are fetched. */
  eager: boolean;
}

function Lines({ run, production, lines, rule, eager }: LinesProps) {
  const client = useQueryClient();
  const go = useNavigate();
  const [at, setAt] = useState<string | null>(null);
  const accept = useMutation({
    mutationFn: ({ now }: SheetLine) =>
      ask(checkRows.look, { output: now.id, body: { verdict: 'accepted', note: '', frame: null } }),
    onSuccess: () => client.invalidateQueries(),
    onError: toastProblem,
  });
  const again = useMutation({
    mutationFn: ({ now }: SheetLine) => ask(checkRows.again, { output: now.id }),
    onSuccess: ({ run: made }, { stem }) => {
      toast(`${stem} is made again`, {
        action: { label: 'To the run', onClick: () => void go(`/p/${production}/runs/${made}`) },
      });
      void client.invalidateQueries();
    },
    onError: toastProblem,
  });
  const index = lines.findIndex(({ id }) => id === at);
  const line = lines[index];
  const busy = accept.isPending || again.isPending;
  const step = (by: number) => () => {
    const next = lines[Math.min(lines.length - 1, Math.max(0, index + by))]?.id ?? null;
    setAt(next);
    document.getElementById(`line-${next}`)?.scrollIntoView({ block: 'nearest' });
  };
  useKeys({
    ArrowDown: step(1),
    ArrowUp: step(-1),
    a: () => line && isMade(line) && line.look === null && !busy && accept.mutate(line),
    r: () => line?.look?.verdict === 'sent back' && !busy && again.mutate(line),
    c: () => line && void go(`/p/${production}/checks/${line.now.id}?frame=${line.frame}&sheet=${run}`),
  });
  return (
    <>
      <p className="text-dim print:hidden">
        <Key>↑</Key> <Key>↓</Key> from one to the next, <Key>A</Key> accepts, <Key>C</Key> compares in motion,{' '}
        <Key>R</Key> makes again what was sent back.
      </p>
      <ul className="border-t border-line" aria-label="To be looked at">
        {lines.map((one) => (
          <SheetRow
            key={one.id}
            line={one}
            production={production}
            run={run}
            rule={rule}
            eager={eager}
            at={one.id === at}
            busy={busy}
            onAt={setAt}
            onAccept={accept.mutate}
            onAgain={again.mutate}
          />
        ))}
      </ul>
    </>
  );
}
