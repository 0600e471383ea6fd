import type { Level } from '@relay/core/findings/finding';
import type { ReactNode } from 'react';

/** Each level has a shape of its own: a block stops, a lozenge asks, a dot tells. */
const shapes: Readonly<Record<Level, { shape: string; colour: string }>> = {
  stop: { shape: 'size-2.5 rounded-[2px]', colour: 'bg-rose' },
  decide: { shape: 'mx-0.5 size-2 rotate-45', colour: 'bg-amber' },
  note: { shape: 'size-1.5 rounded-full', colour: 'bg-faint' },
};

/** A level's shape beside words that say the same: a screen reader passes it over. */
export function LevelShape({ level, className = '' }: { level: Level; className?: string }) {
  const { shape, colour } = shapes[level];
  return <span aria-hidden className={`inline-block shrink-0 ${shape} ${colour} ${className}`} />;
}

interface LevelMarkProps {
  level: Level;
  decided?: boolean;
  /** What a screen reader says instead of the level. */
  label?: string;
  className?: string;
}

/** A level by its shape alone; one that was decided on is an outline. */
export function LevelMark({ level, decided = false, label, className = '' }: LevelMarkProps) {
  const { shape, colour } = shapes[level];
  return (
    <span
      role="img"
      aria-label={label ?? (decided ? `${level}, decided` : level)}
      className={`inline-block shrink-0 ${shape} ${decided ? 'border border-faint' : colour} ${className}`}
    />
  );
}

interface LevelNoteProps {
  level?: Level;
  className?: string;
  children: ReactNode;
}

/** Something to know or to decide before going on, in a line. */
export function LevelNote({ level = 'decide', className = '', children }: LevelNoteProps) {
  return (
    <p role="note" className={`flex items-baseline gap-2 ${className}`}>
      <LevelShape level={level} />
      <span>{children}</span>
    </p>
  );
}
