import type { RehearsalAnswer } from '@relay/contract/cuts';
import { isFound } from '@relay/core/relink/grade';
import { parseRate } from '@relay/core/time/rate';
import { nominalFramesPerSecond } from '@relay/core/time/rate';
import { framesToTimecode } from '@relay/core/time/timecode';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { rehearsalQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { useAddress } from '../ui/useAddress.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { Beside } from './beside.tsx';
import { Events } from './events.tsx';
import { KindShape } from './gradeMark.tsx';
import { counted, kinds, ofKind, type Kind } from './grades.ts';
import { CutHead } from './head.tsx';
import { Paper } from './paper.tsx';
import { Strip } from './strip.tsx';
import { showing, zoomed, type StripView } from './stripView.ts';

/** A cut tried against the originals: as a strip, as a sheet, and event by event. */
export function CutPage() {
  const { version = '', production = '' } = useParams();
  const { data, error, refetch } = useQuery(rehearsalQuery(version));
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The rehearsal" />
      </div>
    );
  return <Rehearsed key={version} version={version} production={production} rehearsal={data} />;
}

function Rehearsed({
  version,
  production,
  rehearsal,
}: {
  version: string;
  production: string;
  rehearsal: RehearsalAnswer;
}) {
  const [asked, say] = useAddress();
  const kind = kinds.find((one) => one === asked.get('show')) ?? null;
  const events = useMemo(() => ofKind(rehearsal.events, kind), [rehearsal, kind]);
  const wanted = Number(asked.get('event') ?? NaN);
  const at = rehearsal.events[wanted] ? wanted : null;
  const [moved, setView] = useState<StripView | null>(null);
  const view = moved ?? rehearsal.record;
  const event = at === null ? undefined : rehearsal.events[at];
  const { perSecond, clock } = useClock(rehearsal);
  const beside = (what: string | null): void => say({ do: what });
  const choose = (index: number): void => {
    say({ event: String(index), do: null });
    const record = rehearsal.events[index]?.record;
    if (record) setView(showing(view, record, rehearsal.record));
  };
  const step = (by: number, such: (one: RehearsalAnswer['events'][number]) => boolean) => () => {
    const all = events.filter(such);
    const place = events.findIndex(({ index }) => index === at);
    const next =
      by > 0
        ? events.find((one, index) => index > place && such(one))
        : events.findLast((one, index) => index < (place < 0 ? Infinity : place) && such(one));
    const found = next ?? (at === null ? all[0] : undefined);
    if (found) choose(found.index);
  };
  const asks = ({ grade }: RehearsalAnswer['events'][number]): boolean => grade !== null && !isFound(grade);
  const zoom = (factor: number) => () =>
    setView(
      zoomed(
        view,
        factor,
        event ? (event.record.from + event.record.to) / 2 : (view.from + view.to) / 2,
        rehearsal.record,
      ),
    );
  useKeys({
    ArrowDown: step(1, () => true),
    ArrowUp: step(-1, () => true),
    ']': step(1, asks),
    '[': step(-1, asks),
    '+': zoom(2),
    '=': zoom(2),
    '-': zoom(1 / 2),
    '0': () => setView(null),
  });
  return (
    <div className="flex min-h-0 min-w-0 flex-1 print:block">
      <Paper rehearsal={rehearsal} />
      <div className="flex min-h-0 min-w-0 flex-1 flex-col print:hidden">
        <CutHead
          version={version}
          production={production}
          rehearsal={rehearsal}
          onPull={() => beside(asked.get('do') === 'pull' ? null : 'pull')}
          onSwap={(run) => beside(`swap ${run}`)}
        />
        <div className="border-y border-line bg-sheet px-1">
          <Strip
            rehearsal={rehearsal}
            view={view}
            onView={setView}
            at={at}
            onAt={choose}
            clock={clock}
            perSecond={perSecond}
          />
        </div>
        <Kinds rehearsal={rehearsal} kind={kind} onKind={(one) => say({ show: one })} />
        <Remarks rehearsal={rehearsal} />
        <Events events={events} at={at} onAt={choose} />
      </div>
      <div className="contents print:hidden">
        <Beside asked={asked} production={production} rehearsal={rehearsal} onClose={() => beside(null)} />
      </div>
    </div>
  );
}

/** How the strip's labels are written. */
function useClock({ rate, events }: RehearsalAnswer): { perSecond: number; clock: (frame: number) => string } {
  return useMemo(() => {
    const parsed = parseRate(rate);
    const of = parsed.ok ? parsed.value : { num: 24, den: 1 };
    const dropFrame = events.some(({ recordIn }) => recordIn.includes(';'));
    return {
      perSecond: nominalFramesPerSecond(of),
      clock: (frame) => {
        const label = framesToTimecode(Math.round(frame), of, dropFrame);
        return label.ok ? label.value.text.slice(0, 8) : '';
      },
    };
  }, [rate, events]);
}

function Kinds({
  rehearsal,
  kind,
  onKind,
}: {
  rehearsal: RehearsalAnswer;
  kind: Kind | null;
  onKind: (kind: Kind | null) => void;
}) {
  const counts = counted(rehearsal.events);
  const look = (on: boolean): string =>
    `inline-flex h-7 items-center gap-1.5 rounded px-2 ${on ? 'bg-raised font-semibold' : 'text-dim hover:text-ink'}`;
  return (
    <div role="group" aria-label="Events shown" className="flex flex-wrap items-center gap-1 px-4 py-1.5">
      <button type="button" aria-pressed={kind === null} className={look(kind === null)} onClick={() => onKind(null)}>
        All {rehearsal.events.length}
      </button>
      {kinds.map((one) => (
        <button
          key={one}
          type="button"
          aria-pressed={kind === one}
          className={look(kind === one)}
          onClick={() => onKind(kind === one ? null : one)}
        >
          <KindShape kind={one} /> {counts[one]} {one}
        </button>
      ))}
    </div>
  );
}

function Remarks({ rehearsal: { remarks } }: { rehearsal: RehearsalAnswer }) {
  if (remarks.length === 0) return null;
  return (
    <details className="px-5 pb-2">
      <summary className="cursor-pointer text-dim">{plural(remarks.length, 'remark')} on the list</summary>
      <ul aria-label="Remarks" className="mt-1 max-h-32 overflow-auto">
        {remarks.map(({ line, what }, index) => (
          <li key={index} className="break-words">
            {line !== null && <span className="mr-2 text-dim">line {line}</span>}
            {what}
          </li>
        ))}
      </ul>
    </details>
  );
}
