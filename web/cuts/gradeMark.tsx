import type { Grade } from '@relay/core/relink/grade';
import type { ReactElement } from 'react';
import { gradeWords, kindOf, type Kind } from './grades.ts';

/** Each kind has a shape of its own, as in the strip: a whole bar, one that stops short, two, an empty one. */
const shapes: Readonly<Record<Kind, { className: string; shape: ReactElement }>> = {
  found: { className: 'text-teal', shape: <rect x="1" y="1" width="12" height="10" rx="1" fill="currentColor" /> },
  nearly: { className: 'text-amber', shape: <rect x="1" y="6" width="12" height="5" rx="1" fill="currentColor" /> },
  several: {
    className: 'text-amber',
    shape: (
      <>
        <rect x="1" y="1" width="12" height="4" rx="1" fill="currentColor" />
        <rect x="1" y="7" width="12" height="4" rx="1" fill="currentColor" />
      </>
    ),
  },
  'not found': {
    className: 'text-rose',
    shape: <path d="M1.5 1.5h11v9h-11ZM1.5 10.5l11-9" fill="none" stroke="currentColor" strokeWidth="1.5" />,
  },
};

export function KindShape({ kind }: { kind: Kind }) {
  const { className, shape } = shapes[kind];
  return (
    <svg viewBox="0 0 14 12" aria-hidden className={`h-3 w-3.5 shrink-0 ${className}`}>
      {shape}
    </svg>
  );
}

/** How surely an event was found, in a shape and a word. */
export function GradeMark({ grade }: { grade: Grade }) {
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <KindShape kind={kindOf(grade)} />
      {gradeWords[grade]}
    </span>
  );
}
