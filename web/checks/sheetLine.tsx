import type { CheckSheet } from '@relay/contract/checkSheet';
import { checkRows } from '@relay/contract/routes/checks';
import { sayReason, type CheckRule } from '@relay/core/checks/checkSheet';
import { memo } from 'react';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { sayClock } from '../ui/format.ts';
import { Button } from '../ui/pieces.tsx';
import { standingOf } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';

export type SheetLine = CheckSheet['lines'][number];

/** Whether something was made that can be looked at. */
export function isMade({ now }: SheetLine): boolean {
  return now.state === 'proved' || now.state === 'needs eyes';
}

interface SheetRowProps {
  line: SheetLine;
  production: string;
  run: string;
  rule: CheckRule;
  eager: boolean;
  at: boolean;
  busy: boolean;
  onAt: (id: string) => void;
  onAccept: (line: SheetLine) => void;
  onAgain: (line: SheetLine) => void;
}

/** What is to be looked at: before and after, why, and what was said of it by whom. */
export const SheetRow = memo(function SheetRow({
  line,
  production,
  run,
  rule,
  eager,
  at,
  busy,
  onAt,
  onAccept,
  onAgain,
}: SheetRowProps) {
  const { stem, roll, deliverable, why, frame, now, look } = line;
  const made = isMade(line);
  const compare = `/p/${production}/checks/${now.id}?frame=${frame}&sheet=${run}`;
  return (
    <li
      id={`line-${line.id}`}
      aria-current={at ? 'true' : undefined}
      onFocus={() => onAt(line.id)}
      className={`grid break-inside-avoid grid-cols-[15rem_1fr_auto] [contain-intrinsic-size:auto_92px] [content-visibility:auto] items-start gap-x-4 border-b border-line px-3 py-2.5 ${at ? 'bg-raised' : ''}`}
    >
      <Pictures output={now.id} frame={frame} stem={stem} to={compare} made={made} eager={eager} />
      <div className="min-w-0">
        <p className="flex flex-wrap items-baseline gap-x-3">
          <Link to={compare} className="font-semibold break-all hover:underline">
            {stem}
          </Link>
          <span className="text-dim">
            {roll !== '' && `${roll}, `}
            {deliverable}
          </span>
        </p>
        <p className="text-dim">
          {why.map((reason) => sayReason(reason, rule)).join(', ')}
          {now.id !== line.id && '; made again since'}
        </p>
        {look && (
          <p className="break-words">
            {look.note !== '' && `“${look.note}” `}
            <span className="text-dim">
              {look.who}, {sayClock(new Date(look.at))}
              {look.frame !== null && `, at frame ${look.frame + 1}`}
            </span>
          </p>
        )}
      </div>
      <div className="flex flex-col items-end gap-1.5">
        <Stands as={standingOf({ state: now.state, look })} />
        <span className="flex gap-2 print:hidden">
          {made && look === null && (
            <Button disabled={busy} onClick={() => onAccept(line)}>
              Accept
            </Button>
          )}
          {made && look?.verdict === 'sent back' && (
            <Button disabled={busy} onClick={() => onAgain(line)}>
              Make it again
            </Button>
          )}
        </span>
      </div>
    </li>
  );
});

/** Before and after at one frame, small. */
export function Pictures({
  output,
  frame,
  stem,
  to,
  made = true,
  eager = false,
}: {
  output: string;
  frame: number;
  stem: string;
  to: string;
  made?: boolean;
  /** Fetched though it is not in sight: paper has no sight. */
  eager?: boolean;
}) {
  if (!made) return <span className="text-dim">No picture: it was not made.</span>;
  return (
    <Link to={to} className="grid grid-cols-2 gap-px overflow-hidden rounded bg-surround" tabIndex={-1}>
      {(['original', 'output'] as const).map((side) => (
        <img
          key={side}
          alt={`${stem}, ${side}`}
          loading={eager ? 'eager' : 'lazy'}
          src={addressOf(checkRows.picture, { output, query: { side, frame } })}
          className="aspect-video w-full object-contain text-[10px] text-surround-ink"
        />
      ))}
    </Link>
  );
}
