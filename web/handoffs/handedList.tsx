import type { HandedLine } from '@relay/contract/handoffs';
import { Link } from 'react-router';
import { HandedState } from './handedState.tsx';

/** What was handed off, to whom, and how it stands. */
export function HandedList({ production, lines }: { production: string; lines: readonly HandedLine[] }) {
  if (lines.length === 0)
    return (
      <p className="max-w-xl text-dim">
        Nothing has been handed off yet. A hand-off is a set of outputs for somebody: copied to a drive or folder,
        proved there, with everything that relinking needs.
      </p>
    );
  return (
    <ul className="border-t border-line">
      {lines.map((line) => (
        <li key={line.id} className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line py-3">
          <span className="min-w-48 flex-1 break-words">
            <Link className="font-semibold underline underline-offset-4" to={`/p/${production}/handoffs/${line.id}`}>
              {line.name}
            </Link>{' '}
            <span className="text-dim">
              {line.receiver} · {line.storeName}
              {line.folder === '' ? '' : `, ${line.folder}`}
            </span>
          </span>
          <HandedState line={line} />
          {line.problem && <span className="w-full text-[12px] break-words text-dim">{line.problem.what}</span>}
        </li>
      ))}
    </ul>
  );
}
