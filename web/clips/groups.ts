import type { ClipGroup, ClipsAnswer, ClipSort } from '@relay/contract/clips';
import { plural } from '../ui/format.ts';

/** A heading over like clips, or a clip: what the sheet shows line by line. */
export type SheetLine = { kind: 'heading'; key: string; text: string; ids: string[] } | { kind: 'clip'; id: string };

/** A length in hours, minutes and seconds; a dash where there is none to be told. */
export function sayHours(seconds: number | null): string {
  if (seconds === null) return '–';
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 3600)}:${String(Math.floor(whole / 60) % 60).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}`;
}

function heading(group: ClipGroup, ids: string[]): SheetLine {
  return {
    kind: 'heading',
    key: group.key,
    text: `${group.text} · ${plural(group.clips, 'clip')} · ${sayHours(group.seconds)}`,
    ids,
  };
}

/** The sheet's order with a heading before each group; groups follow each other as the clips do. */
export function sheetLines({ ids, groups }: Pick<ClipsAnswer, 'ids' | 'groups'>, sort: ClipSort): SheetLine[] {
  if (sort !== 'group') return ids.map((id) => ({ kind: 'clip', id }));
  let at = 0;
  return groups.flatMap((group) => {
    const members = ids.slice(at, at + group.clips);
    at += group.clips;
    return [heading(group, members), ...members.map((id): SheetLine => ({ kind: 'clip', id }))];
  });
}

/** The clips of the group that a clip is in; none where the sheet shows no groups. */
export function groupOf(lines: readonly SheetLine[], clip: string | null): string[] {
  const at = lines.findIndex((line) => line.kind === 'clip' && line.id === clip);
  const before = lines.slice(0, Math.max(0, at)).findLast((line) => line.kind === 'heading');
  return before?.kind === 'heading' ? before.ids : [];
}
