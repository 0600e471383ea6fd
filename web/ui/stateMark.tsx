import type { LegState } from '@relay/contract/states';
import type { ReactElement } from 'react';

/** Each state has a shape of its own as well as a colour, and is always named beside it or for the reader's voice. */
const shapes: Readonly<Record<LegState, { className: string; shape: ReactElement }>> = {
  waiting: { className: 'text-faint', shape: <path d="M2 6h8" strokeWidth="2" /> },
  held: { className: 'text-faint', shape: <path d="M4 2.5v7M8 2.5v7" strokeWidth="2" /> },
  running: { className: 'text-sky', shape: <circle cx="6" cy="6" r="3.8" strokeWidth="2" /> },
  proving: {
    className: 'text-sky',
    shape: (
      <>
        <circle cx="6" cy="6" r="3.8" strokeWidth="2" />
        <circle cx="6" cy="6" r="1.6" fill="currentColor" stroke="none" />
      </>
    ),
  },
  proved: { className: 'text-teal', shape: <circle cx="6" cy="6" r="5" fill="currentColor" stroke="none" /> },
  'needs eyes': {
    className: 'text-amber',
    shape: <path d="M6 .6 11.4 6 6 11.4.6 6Z" fill="currentColor" stroke="none" />,
  },
  failed: {
    className: 'text-rose',
    shape: <rect x="1" y="1" width="10" height="10" rx="1.5" fill="currentColor" stroke="none" />,
  },
  stopped: { className: 'text-faint', shape: <rect x="2" y="2" width="8" height="8" rx="1" strokeWidth="2" /> },
};

export function StateMark({ state, word = true }: { state: LegState; word?: boolean }) {
  const { className, shape } = shapes[state];
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <svg
        viewBox="0 0 12 12"
        className={`size-3 shrink-0 ${className}`}
        fill="none"
        stroke="currentColor"
        strokeLinecap="round"
        role={word ? undefined : 'img'}
        aria-label={word ? undefined : state}
        aria-hidden={word}
      >
        {shape}
      </svg>
      {word && <span>{state}</span>}
    </span>
  );
}

export const stateColour: Readonly<Record<LegState, string>> = {
  waiting: 'bg-lane',
  held: 'bg-lane',
  running: 'bg-sky',
  proving: 'bg-sky',
  proved: 'bg-teal',
  'needs eyes': 'bg-amber',
  failed: 'bg-rose',
  stopped: 'bg-faint',
};
