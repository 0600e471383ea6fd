import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { contactSheetQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { blocks, Button, Empty, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useAddress } from '../ui/useAddress.ts';
import { usePrint } from '../ui/usePrint.ts';
import { Choice } from './head.tsx';
import { Pictures } from './sheetLine.tsx';

/** A run's clips, a picture of each from its middle, before and after: for the screen and for paper. */
export function ContactSheetPage() {
  const { run = '', production = '' } = useParams();
  const [asked, setAsked] = useAddress();
  const { data, error, refetch } = useQuery(contactSheetQuery(run, asked.get('deliverable')));
  const { whole, coming, print } = usePrint();
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The contact sheet" />
      </div>
    );
  return (
    <div className="min-w-0 flex-1 overflow-auto print:overflow-visible">
      <article className="mx-auto flex w-full max-w-6xl flex-col gap-4 px-6 py-5">
        <header className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <div className="min-w-0">
            <p className="text-dim">
              <Link to={`/p/${production}/runs/${run}`} className="hover:text-ink">
                {data.name}
              </Link>
            </p>
            <h1 className="text-lg font-semibold">Contact sheet</h1>
            <p className="text-dim">
              {plural(data.lines.length, 'clip')}, each from its middle: the original, then {data.shown}
            </p>
          </div>
          <span className="ml-auto flex items-center gap-2 print:hidden">
            {data.deliverables.length > 1 &&
              data.deliverables.map((one) => (
                <Choice key={one} on={one === data.shown} onClick={() => setAsked({ deliverable: one })}>
                  {one}
                </Choice>
              ))}
            <Button main disabled={coming || data.lines.length === 0} onClick={() => void print()}>
              {coming ? 'Pictures come …' : 'Print'}
            </Button>
          </span>
        </header>
        {data.lines.length === 0 && (
          <Empty title="Nothing made yet">
            <p>As soon as the run has made something, its clips stand here.</p>
          </Empty>
        )}
        <ul className="grid grid-cols-2 gap-x-4 gap-y-5 md:grid-cols-3 print:grid-cols-3">
          {data.lines.map(({ output, stem, roll, words, frame, label }) => (
            <li key={output} className="min-w-0 break-inside-avoid">
              <Pictures
                output={output}
                frame={frame}
                stem={stem}
                to={`/p/${production}/checks/${output}?frame=${frame}`}
                eager={whole}
              />
              <p className="mt-1 flex items-baseline justify-between gap-2">
                <Link
                  to={`/p/${production}/checks/${output}?frame=${frame}`}
                  className="min-w-0 truncate font-semibold"
                  title={stem}
                >
                  {stem}
                </Link>
                <span className="shrink-0 font-mono text-[12px]">{label}</span>
              </p>
              <p className="truncate text-dim">{[roll, words].filter((one) => one !== '').join(' · ')}</p>
            </li>
          ))}
        </ul>
      </article>
    </div>
  );
}
