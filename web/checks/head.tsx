import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

const pages = [
  ['outputs', 'Outputs', ''],
  ['sizes', 'Sizes', '/sizes'],
] as const;

interface ChecksHeadProps {
  production: string;
  at: (typeof pages)[number][0];
  children: ReactNode;
}

/** The pages of the station, and what is chosen on one of them. */
export function ChecksHead({ production, at, children }: ChecksHeadProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-line px-5 py-2">
      <nav aria-label="Checks" className="flex gap-1">
        {pages.map(([id, name, path]) => (
          <NavLink
            key={id}
            to={`/p/${production}/checks${path}`}
            end
            className={`flex h-8 items-center rounded-md px-3 ${id === at ? 'font-semibold text-ink' : 'text-dim hover:text-ink'}`}
          >
            {name}
          </NavLink>
        ))}
      </nav>
      {children}
    </div>
  );
}

/** One of a few that are shown. */
export function Choice({ on, onClick, children }: { on: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onClick}
      className={`flex h-8 items-center gap-2 rounded-md px-3 ${on ? 'bg-raised text-ink' : 'text-dim hover:text-ink'}`}
    >
      {children}
    </button>
  );
}
