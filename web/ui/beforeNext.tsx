import type { ReactNode } from 'react';

interface BeforeNextProps {
  /** What is stepped through, as a screen reader says it: *clip*. */
  of: string;
  before: (() => void) | null;
  next: (() => void) | null;
  children: ReactNode;
  className?: string;
}

/** Whatever it stands on, in either theme: it takes the colour of what is around it. */
const stepLook = 'rounded px-1 enabled:hover:underline disabled:opacity-30';

/** Where one is in a row of things, with a step each way; the keys are the brackets that stand there. */
export function BeforeNext({ of, before, next, children, className = '' }: BeforeNextProps) {
  return (
    <span className={`flex shrink-0 items-center gap-1 font-mono ${className}`}>
      <button
        type="button"
        aria-label={`${of.charAt(0).toUpperCase()}${of.slice(1)} before`}
        disabled={!before}
        onClick={() => before?.()}
        className={stepLook}
      >
        [
      </button>
      {children}
      <button type="button" aria-label={`Next ${of}`} disabled={!next} onClick={() => next?.()} className={stepLook}>
        ]
      </button>
    </span>
  );
}
