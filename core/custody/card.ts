/** A file on a card, as it is recognised before anything is read of it. */
export interface CardFile {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
}

/** What an earlier arrival holds of a card's files. */
export interface EarlierCard {
  roll: string;
  files: readonly CardFile[];
}

/** A card that came before: which roll it is, and what is new on it since. */
export interface Recognised {
  roll: string;
  known: number;
  fresh: number;
  gone: number;
}

/**
 * Whether a card came in before: at least half of an earlier card's files lie on it under the same path with the same
 * size and time. Times are compared to two seconds, which is how finely FAT keeps them (ECMA-107).
 */
export function recogniseCard(files: readonly CardFile[], earlier: readonly EarlierCard[]): Recognised | null {
  const byPath = new Map(files.map((file) => [file.path, file]));
  let best: Recognised | null = null;
  for (const card of earlier) {
    const known = card.files.filter((file) => {
      const now = byPath.get(file.path);
      return (
        now?.sizeBytes === file.sizeBytes && Math.abs(Date.parse(now.modifiedAt) - Date.parse(file.modifiedAt)) <= 2_000
      );
    }).length;
    if (known > 0 && known * 2 >= card.files.length && known > (best?.known ?? 0))
      best = { roll: card.roll, known, fresh: files.length - known, gone: card.files.length - known };
  }
  return best;
}

/** In words, for the person with the card in hand. */
export function sayRecognised({ roll, known, fresh, gone }: Recognised): string {
  if (fresh === 0 && gone === 0) return `This card came in before as ${roll}, with the very same ${known} files`;
  const more = [fresh > 0 ? `${fresh} files are new` : null, gone > 0 ? `${gone} are no longer on it` : null]
    .filter((part) => part !== null)
    .join(', ');
  return `This card came in before as ${roll}: ${known} files are the same, ${more}`;
}
