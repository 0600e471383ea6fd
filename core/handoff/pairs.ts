import { originalKey, type RelinkRow } from '../relink/sheet.ts';

/** Outputs of two roles that are to be exchanged for each other by path alone. */
export interface PairsOf {
  low: string;
  high: string;
  /** The two folders that are exchanged, below the hand-off's: what follows them is the same. Null where there are no two such. */
  roots: { low: string; high: string } | null;
  pairs: { stem: string; low: string; high: string; differs: string[] }[];
  /** Of one role alone. */
  alone: { path: string; role: string }[];
}

type Side = Pick<
  RelinkRow,
  | 'stem'
  | 'original'
  | 'originalFrom'
  | 'originalXxh3'
  | 'roll'
  | 'output'
  | 'role'
  | 'startTimecode'
  | 'frames'
  | 'rateFraction'
  | 'channelsByTrack'
>;

function partsOf(path: string): { folders: string[]; stem: string } {
  const names = path.split('/');
  const name = names.at(-1) ?? '';
  const dot = name.lastIndexOf('.');
  return { folders: names.slice(0, -1), stem: dot > 0 ? name.slice(0, dot) : name };
}

/** The folders of two paths that are left once what is the same at their ends is taken away; null where the names differ. */
function rootsOf(low: string, high: string): { low: string; high: string } | null {
  const [a, b] = [partsOf(low), partsOf(high)];
  if (a.stem !== b.stem) return null;
  let same = 0;
  while (same < Math.min(a.folders.length, b.folders.length) && a.folders.at(-1 - same) === b.folders.at(-1 - same))
    same += 1;
  return {
    low: a.folders.slice(0, a.folders.length - same).join('/'),
    high: b.folders.slice(0, b.folders.length - same).join('/'),
  };
}

/** Channels by track, however many tracks they lie in. */
function channels(row: Side): number {
  return row.channelsByTrack
    .split(' ')
    .filter((word) => word !== '')
    .reduce((sum, word) => sum + Number(word), 0);
}

const counted = (count: number): string => `${count} ${count === 1 ? 'channel' : 'channels'}`;

/** What a program that exchanges paths would stumble over. */
function differences(low: Side, high: Side): string[] {
  return [
    ...(low.startTimecode === high.startTimecode
      ? []
      : [`starts at ${high.startTimecode || 'no timecode'}, not ${low.startTimecode || 'without'}`]),
    ...(low.frames === high.frames ? [] : [`has ${high.frames} frames, not ${low.frames}`]),
    ...(low.rateFraction === high.rateFraction ? [] : [`runs at ${high.rateFraction}, not ${low.rateFraction}`]),
    ...(channels(low) === channels(high) ? [] : [`has ${counted(channels(high))}, not ${channels(low)}`]),
  ];
}

/**
 * Every pair of a low and a high output of one original, with what keeps it from being exchanged by path: its name, its
 * folder, start timecode, frames, rate, channels.
 */
export function pairsOf(rows: readonly Side[], low: string, high: string): PairsOf {
  const highs = new Map(rows.filter(({ role }) => role === high).map((row) => [originalKey(row), row]));
  const found: PairsOf = { low, high, roots: null, pairs: [], alone: [] };
  const ways = new Map<string, { roots: { low: string; high: string }; count: number }>();
  const roots: ({ low: string; high: string } | null)[] = [];
  for (const row of rows.filter(({ role }) => role === low)) {
    const other = highs.get(originalKey(row));
    if (!other) {
      found.alone.push({ path: row.output, role: low });
      continue;
    }
    highs.delete(originalKey(row));
    const between = rootsOf(row.output, other.output);
    roots.push(between);
    if (between) {
      const key = `${between.low}\n${between.high}`;
      ways.set(key, { roots: between, count: (ways.get(key)?.count ?? 0) + 1 });
    }
    found.pairs.push({ stem: row.stem, low: row.output, high: other.output, differs: differences(row, other) });
  }
  found.alone.push(...[...highs.values()].map(({ output, role }) => ({ path: output, role })));
  const usual = [...ways.values()].sort((a, b) => b.count - a.count)[0]?.roots ?? null;
  found.roots = usual;
  found.pairs.forEach((pair, index) => {
    const between = roots[index];
    if (!between) pair.differs.unshift('has another name');
    else if (usual && (between.low !== usual.low || between.high !== usual.high))
      pair.differs.unshift('lies in another folder than the others');
  });
  return found;
}
