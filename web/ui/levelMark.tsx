import type { Level } from '@relay/core/findings/finding';

/** Each level has a shape of its own: a block stops, a lozenge asks, a dot tells. */
export function LevelMark({ level, decided = false }: { level: Level; decided?: boolean }) {
  const look =
    level === 'stop'
      ? 'size-2.5 rounded-[2px] bg-rose'
      : level === 'decide'
        ? 'size-2 rotate-45 bg-amber'
        : 'size-1.5 rounded-full bg-faint';
  return (
    <span
      role="img"
      aria-label={decided ? `${level}, decided` : level}
      className={`inline-block shrink-0 ${decided ? `${look.replace(/bg-\w+/, '')} border border-faint` : look}`}
    />
  );
}
