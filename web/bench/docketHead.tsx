import type { BenchAnswer } from '@relay/contract/bench';
import type { ReactNode } from 'react';
import { BeforeNext } from '../ui/beforeNext.tsx';

interface DocketHeadProps {
  bench: BenchAnswer;
  /** Another clip of the production is laid on the bench. */
  onOther: (clip: string) => void;
  children?: ReactNode;
}

/** Which clip is on the bench, where it stands among the others, and its group. */
export function DocketHead({ bench, onOther, children }: DocketHeadProps) {
  const { stem, position, of, group, previous, next } = bench;
  return (
    <div>
      <div className="flex items-baseline justify-between gap-2">
        <h1 className="truncate text-[15px] font-semibold">{stem}</h1>
        <BeforeNext
          of="clip"
          before={previous ? () => onOther(previous) : null}
          next={next ? () => onOther(next) : null}
          className="text-[11px] text-dim"
        >
          {position} of {of}
        </BeforeNext>
      </div>
      <p className="text-dim">{group.text}</p>
      {children}
    </div>
  );
}
