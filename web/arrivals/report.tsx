import { arrivalRows } from '@relay/contract/routes/arrivals';
import { addressOf } from '../api/client.ts';
import type { ReportRoll } from '@relay/contract/clips';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { reportQuery } from '../api/queries.ts';
import { sayHours } from '../clips/groups.ts';
import { plural, sayBytes } from '../ui/format.ts';
import { LevelMark } from '../ui/levelMark.tsx';
import { blocks, Button, inputLook, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';

/** What a day brought: for the screen, for paper, for a table. */
export function ReportPage() {
  const { production = '' } = useParams();
  const [day, setDay] = useState<string | null>(null);
  const { data: report, error, refetch } = useQuery(reportQuery(production, day));
  if (error && blocks(error, report)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!report)
    return (
      <div className="flex-1">
        <Loading what="The day report" />
      </div>
    );
  return (
    <div className="min-w-0 flex-1 overflow-auto print:overflow-visible">
      <article className="mx-auto flex w-full max-w-5xl flex-col gap-5 px-6 py-5">
        <header className="flex flex-wrap items-end gap-3">
          <div>
            <p className="text-dim">
              <Link to={`/p/${production}/arrivals`} className="hover:text-ink print:hidden">
                Arrivals
              </Link>
              <span aria-hidden className="mx-2 text-faint print:hidden">
                ›
              </span>
              Day report · {report.production}
            </p>
            <h2 className="text-lg font-semibold">{report.day}</h2>
          </div>
          <span className="ml-auto flex items-center gap-2 print:hidden">
            <select
              aria-label="Day"
              className={`${inputLook} w-auto`}
              value={report.day}
              onChange={(event) => setDay(event.target.value)}
            >
              {report.days.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </select>
            <a
              className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
              download
              href={addressOf(arrivalRows.reportCsv, { production, query: { day: report.day } })}
            >
              CSV
            </a>
            <Button main onClick={() => window.print()}>
              Print
            </Button>
          </span>
        </header>
        <p className="text-[15px]">
          {plural(report.rolls.length, 'roll')}, {plural(report.clips, 'clip')},{' '}
          <span className="font-mono">{sayHours(report.seconds)}</span> hours of picture, {sayBytes(report.bytes)}.
        </p>
        {report.rolls.map((roll) => (
          <RollReport key={roll.name} roll={roll} />
        ))}
        <footer className="text-faint">
          Made {new Date(report.madeAt).toLocaleString('en-GB')} from what the files and copies are, not from notes.
        </footer>
      </article>
    </div>
  );
}

function RollReport({ roll }: { roll: ReportRoll }) {
  return (
    <section aria-label={`Roll ${roll.name}`} className="break-inside-avoid border-t border-line pt-3">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <h3 className="w-24 truncate text-[15px] font-semibold">{roll.name}</h3>
        <span className="font-mono">
          {plural(roll.clips, 'clip')}
          {roll.soundClips > 0 && `, ${roll.soundClips} of sound`}
        </span>
        <span className="font-mono">{sayHours(roll.seconds)}</span>
        <span className="font-mono">{sayBytes(roll.bytes)}</span>
        <span className="ml-auto text-dim">{roll.custody}</span>
      </div>
      <dl className="mt-1 grid grid-cols-[6rem_1fr] gap-x-4 gap-y-1">
        <dt className="text-dim">Formats</dt>
        <dd>
          {roll.formats.length === 0
            ? 'none read'
            : roll.formats.map((format) => (
                <span key={format} className="block font-mono">
                  {format}
                </span>
              ))}
        </dd>
        <dt className="text-dim">Numbers</dt>
        <dd>
          {roll.gaps.length === 0 ? (
            'no gap'
          ) : (
            <span className="flex items-baseline gap-2">
              <LevelMark level="decide" />
              missing {roll.gaps.slice(0, 12).join(', ')}
              {roll.gaps.length > 12 && ` and ${roll.gaps.length - 12} more`}
            </span>
          )}
        </dd>
        <dt className="text-dim">To know</dt>
        <dd>
          {roll.findings.length === 0 ? (
            'nothing'
          ) : (
            <ul className="grid gap-x-6 sm:grid-cols-2">
              {roll.findings.map((finding) => (
                <li key={finding.text} className="flex items-baseline gap-2">
                  <LevelMark level={finding.level} />
                  <span className={finding.level === 'note' ? 'text-dim' : ''}>{finding.text}</span>
                  {finding.clips > 1 && <span className="font-mono text-faint">×{finding.clips}</span>}
                </li>
              ))}
            </ul>
          )}
        </dd>
      </dl>
    </section>
  );
}
