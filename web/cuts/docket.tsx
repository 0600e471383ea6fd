import type { CutEventLine } from '@relay/contract/cuts';
import { cutRows } from '@relay/contract/routes/cuts';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { docketWidth } from '../ui/docketWidth.ts';
import { Answer, type AnswerProps } from './answer.tsx';
import { GradeMark } from './gradeMark.tsx';

/** An event: the list's own words beside what was found, and a person's answer. */
export function EventDocket({ version, production, event }: AnswerProps) {
  const { grade, original, frames, why, through } = event;
  return (
    <aside
      aria-label="Event"
      className={`${docketWidth} shrink-0 overflow-auto border-l border-line bg-sheet px-4 py-4`}
    >
      <h2 className="flex items-baseline justify-between gap-2 text-[15px] font-semibold">
        Event {event.number}
        {event.line !== null && <span className="text-[12px] font-normal text-dim">line {event.line}</span>}
      </h2>
      <Said event={event} />
      {grade !== null && (
        <section aria-label="Found" className="mt-4 border-t border-line pt-3">
          <p className="flex items-center justify-between gap-2">
            <GradeMark grade={grade} />
            {frames && (
              <span className="font-mono text-[12px] text-dim">
                {frames.from} to {frames.to}, {frames.to - frames.from} frames
              </span>
            )}
          </p>
          <p className="mt-1 break-words text-dim">{why}.</p>
          {original && (
            <>
              <Link
                to={`/p/${production}/clips/${original.clip}`}
                className="mt-2 block font-mono text-[12px] break-all underline underline-offset-4"
              >
                {original.path}
              </Link>
              {through !== null && <p className="mt-1 font-mono text-[11px] break-all text-faint">through {through}</p>}
            </>
          )}
          {original && frames && (
            <figure className="mt-3 grid grid-cols-2 gap-px overflow-hidden rounded bg-surround">
              {[frames.from, Math.max(frames.from, frames.to - 1)].map((frame, index) => (
                <img
                  key={index === 0 ? 'in' : 'out'}
                  alt={`${original.stem}, ${index === 0 ? 'first' : 'last'} frame that is needed`}
                  src={addressOf(cutRows.picture, { clip: original.clip, query: { frame } })}
                  className="aspect-video w-full object-contain"
                />
              ))}
            </figure>
          )}
        </section>
      )}
      {grade !== null && <Answer key={event.index} version={version} production={production} event={event} />}
    </aside>
  );
}

/** What the list says. */
function Said({ event }: { event: CutEventLine }) {
  const { recordIn, recordOut, sourceIn, sourceOut, reel, clip, file, speed, transition, comments, tracks, kind } =
    event;
  const facts: [string, string | null][] = [
    ['Record', `${recordIn} – ${recordOut}`],
    ['On', tracks.join(' ') || 'no track'],
    ...(kind === 'media'
      ? ([
          ['Source', sourceIn === null ? null : `${sourceIn} – ${sourceOut}`],
          ['Reel', reel],
          ['Name', clip],
          ['Path', file],
          ['Speed', speed],
        ] as [string, string | null][])
      : ([['Shows', kind === 'black' ? 'black' : 'what was made in the edit']] as [string, string][])),
    ['Begins by', transition],
    ['Words', comments.length > 0 ? comments.join(' · ') : null],
  ];
  return (
    <dl className="mt-2 grid grid-cols-[64px_1fr] gap-x-2 gap-y-1">
      {facts
        .filter((one): one is [string, string] => one[1] !== null)
        .map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-dim">{name}</dt>
            <dd className="font-mono text-[12px] break-all">{value}</dd>
          </div>
        ))}
    </dl>
  );
}
