import type { ReactNode } from 'react';
import { PartTabs, type Part } from './parts.tsx';
import { docketWidth } from '../ui/docketWidth.ts';

interface DocketProps {
  part: Part;
  onPart: (part: Part) => void;
  /** What is done with it all, always in view. */
  foot: ReactNode;
  children: ReactNode;
}

/** The bench's docket, whichever part of the corrections it shows. */
export function Docket({ part, onPart, foot, children }: DocketProps) {
  return (
    <aside aria-label="Docket" className={`flex ${docketWidth} shrink-0 flex-col border-l border-line bg-raised/40`}>
      <PartTabs part={part} onPart={onPart} />
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto p-4">{children}</div>
      <div className="flex flex-col gap-2 border-t border-line p-4 py-3">{foot}</div>
    </aside>
  );
}
