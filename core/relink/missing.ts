import { csvLine } from '../identity/csv.ts';

/** An event that was not found, as far as somebody needs it who looks for the drive. */
export interface Wanted {
  number: string;
  reel: string | null;
  clip: string | null;
  file: string | null;
  sourceIn: string | null;
  sourceOut: string | null;
  recordIn: string;
  why: string;
}

function nameOf({ reel, clip, file }: Wanted): string {
  return reel ?? clip ?? file ?? 'without a name';
}

/** What is wanted as a table, a row an event, by reel and timecode. */
export function missingCsv(wanted: readonly Wanted[]): string {
  const rows = [...wanted].sort(byReel);
  const lines = rows.map(({ number, reel, clip, file, sourceIn, sourceOut, recordIn, why }) =>
    csvLine([reel, clip, file, sourceIn, sourceOut, number, recordIn, why]),
  );
  return `${[csvLine(['reel', 'clip', 'file', 'source in', 'source out', 'event', 'record in', 'why']), ...lines].join('\r\n')}\r\n`;
}

/** What is wanted as a text to send: reels, each with its stretches of timecode. */
export function missingText(title: string, wanted: readonly Wanted[]): string {
  const reels = new Map<string, Wanted[]>();
  for (const one of [...wanted].sort(byReel)) reels.set(nameOf(one), [...(reels.get(nameOf(one)) ?? []), one]);
  const lines = [...reels].flatMap(([reel, events]) => [
    reel,
    ...events.map(
      ({ sourceIn, sourceOut, clip, number }) =>
        `  ${sourceIn ?? 'no timecode'} to ${sourceOut ?? 'no timecode'}${clip !== null && clip !== reel ? `, ${clip}` : ''} (event ${number})`,
    ),
  ]);
  const head =
    wanted.length === 0
      ? `${title}: nothing is missing.`
      : `${title}: ${wanted.length} ${wanted.length === 1 ? 'event is' : 'events are'} not found. Wanted:`;
  return `${[head, '', ...lines].join('\n').trimEnd()}\n`;
}

function byReel(a: Wanted, b: Wanted): number {
  const [one, other] = [`${nameOf(a)}\u0000${a.sourceIn ?? ''}`, `${nameOf(b)}\u0000${b.sourceIn ?? ''}`];
  return one < other ? -1 : one > other ? 1 : 0;
}
