/** What consecutive pictures show of how they were scanned. */
export type SeenScan = 'progressive' | 'top-field-first' | 'bottom-field-first' | 'pulldown' | 'still';

/** How sure it is, and the place of the first frame of the longest stretch in the 2:3 pattern, counted on to the clip's own first frame. */
export interface ScanMeasure {
  seen: SeenScan;
  /** Share of the judged pairs of pictures that say so: 0 to 1. */
  confidence: number;
  /** Pairs of pictures in which enough moved to judge. */
  judged: number;
  /** 2:3 pulldown: the place of the clip's first frame in AA BB BC CD DD. */
  phase: number | null;
}

/** A stretch of consecutive pictures: rows of luma, few columns, all rows. */
export interface Stretch {
  /** Number of its first picture in the clip. */
  first: number;
  width: number;
  height: number;
  pictures: readonly Uint16Array[];
}

/** Mean absolute difference of one field (0 top, 1 bottom) of two pictures. */
function fieldDifference(a: Uint16Array, b: Uint16Array, width: number, height: number, parity: 0 | 1): number {
  let sum = 0;
  for (let y = parity; y < height; y += 2) for (let x = 0; x < width; x += 1) sum += Math.abs((a[y * width + x] as number) - (b[y * width + x] as number));
  return sum / (width * (height / 2));
}

/**
 * How much the top field of one picture and the bottom field of another stand out from each other, row against row:
 * large where they are of different times. Rows are held against the mean of their neighbours in the other field.
 */
function comb(top: Uint16Array, bottom: Uint16Array, width: number, height: number): number {
  let sum = 0;
  for (let y = 1; y < height - 1; y += 1) {
    const own = y % 2 === 0 ? top : bottom;
    const other = y % 2 === 0 ? bottom : top;
    for (let x = 0; x < width; x += 1) {
      const [above, here, below] = [other[(y - 1) * width + x] as number, own[y * width + x] as number, other[(y + 1) * width + x] as number];
      // Only what stands out from both sides alike is comb; an edge lies between them.
      const [up, down] = [here - above, here - below];
      if (up > 0 === down > 0) sum += Math.min(Math.abs(up), Math.abs(down));
    }
  }
  return sum / (width * (height - 2));
}

/** Below this mean difference, in 16-bit codes (six of 10 bits), what differs may be grain alone, and grain looks like whole pictures. */
const still = 6 * 64;
/** A comb this much stronger than another is one of later time. */
const clearly = 1.06;

/**
 * Decides from the fields of consecutive pictures. In time, the fields of two pictures with the top first are T0 B0 T1 B1: then
 * T1 and B0 are as near as T0 and B0, while T0 and B1 are three steps apart; with the bottom first it is the other way
 * round; of whole pictures T0 and B0 are one time, and both crosses are alike.
 */
export function measureScan(stretches: readonly Stretch[]): ScanMeasure {
  const votes: Record<'progressive' | 'top-field-first' | 'bottom-field-first', number> = { progressive: 0, 'top-field-first': 0, 'bottom-field-first': 0 };
  let judged = 0;
  /** For each place in the pattern: how many pairs speak for it, of how many. */
  const pattern = Array.from({ length: 5 }, () => 0);
  let pairs = 0;
  for (const { first, width, height, pictures } of stretches) {
    for (let i = 0; i + 1 < pictures.length; i += 1) {
      const [a, b] = [pictures[i] as Uint16Array, pictures[i + 1] as Uint16Array];
      const [topMoved, bottomMoved] = [fieldDifference(a, b, width, height, 0), fieldDifference(a, b, width, height, 1)];
      if (Math.max(topMoved, bottomMoved) < still) continue;
      judged += 1;
      const [same, late, early] = [comb(a, a, width, height), comb(b, a, width, height), comb(a, b, width, height)];
      const low = Math.min(same, late, early);
      if (same <= low * 1.0001 && Math.min(late, early) > same * clearly && Math.abs(late - early) < 0.5 * Math.max(late - same, early - same)) votes.progressive += 1;
      else if (early > late * clearly && early > same * clearly) votes['top-field-first'] += 1;
      else if (late > early * clearly && late > same * clearly) votes['bottom-field-first'] += 1;
      else if (same * clearly < Math.min(late, early)) votes.progressive += 1;
      // A field that is repeated moves far less than the other: top from the second frame of the pattern to the third, bottom from the fourth to the fifth.
      const repeated = topMoved < bottomMoved * 0.35 ? 1 : bottomMoved < topMoved * 0.35 ? 3 : null;
      pairs += 1;
      if (repeated !== null) {
        const phase = (((repeated - (first + i)) % 5) + 5) % 5;
        (pattern[phase] as number) += 1;
      }
    }
  }
  const best = pattern.indexOf(Math.max(...pattern));
  const share = (pattern[best] as number) / Math.max(1, pairs);
  // Two of every five neighbours repeat a field where there is pulldown, all at one place in the pattern.
  if (pairs >= 8 && share > 0.28 && (pattern[best] as number) >= 0.85 * pattern.reduce((x, y) => x + y, 0)) {
    return { seen: 'pulldown', confidence: Math.min(1, share / 0.4), judged, phase: best };
  }
  const [seen, count] = (Object.entries(votes) as [keyof typeof votes, number][]).reduce((x, y) => (y[1] > x[1] ? y : x));
  const all = votes.progressive + votes['top-field-first'] + votes['bottom-field-first'];
  return all < 3 ? { seen: 'still', confidence: 0, judged, phase: null } : { seen, confidence: count / Math.max(1, judged), judged, phase: null };
}
