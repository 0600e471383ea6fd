/** What consecutive pictures show of how they were scanned. */
export type SeenScan = 'progressive' | 'top-field-first' | 'bottom-field-first' | 'pulldown' | 'still';

/** How sure it is, and for 2:3 pulldown where in its pattern the clip begins. */
export interface ScanMeasure {
  seen: SeenScan;
  /** Share of the judged pairs of pictures that say so: 0 to 1. */
  confidence: number;
  /** Pairs of pictures in which enough moved to judge. */
  judged: number;
  /**
   * 2:3 pulldown: the place of the clip's first frame in AA BB BC CD DD, and which field of its pictures comes first.
   */
  phase: number | null;
  topFieldFirst?: boolean;
}

/**
 * A stretch of consecutive pictures: luma of all rows, few columns. Columns are means of several, so that grain weighs
 * less.
 */
export interface Stretch {
  /** Number of its first picture in the clip. */
  first: number;
  width: number;
  height: number;
  pictures: readonly Uint16Array[];
}

/**
 * Sums over one block of two neighbouring pictures. `same`, `late`, `early`: how much the two fields stand out from
 * each other, row against row (comb), of one picture, of the later top with the earlier bottom, and the other way
 * round. `top`, `bottom`: how much each field changed.
 */
interface Block {
  same: number;
  late: number;
  early: number;
  top: number;
  bottom: number;
}

const [blockColumns, blockRows] = [16, 16];
/** Share of the blocks that is judged: those in which most moved. */
const judgedShare = 1 / 12;
/** Standard errors that motion must stand above grain. */
const sure = 4;

/**
 * What only stands out from both of its neighbours alike is comb, by the lesser of the two differences; an edge lies
 * between them. Of whole numbers, without a question that grain would answer by chance.
 */
function comb(above: number, here: number, below: number): number {
  return (Math.abs(here - above) + Math.abs(here - below) - Math.abs(above - below)) >> 1;
}

/**
 * The blocks of two pictures, twice: from every even column, by which blocks are chosen, and from every odd one, by
 * which they are judged. Grain that makes a block look moving in the one says nothing in the other.
 */
function blocksOf(
  a: Uint16Array,
  b: Uint16Array,
  width: number,
  height: number,
): { chosenBy: Block; judgedBy: Block }[] {
  const [across, down] = [
    Math.max(1, Math.floor(width / blockColumns)),
    Math.max(1, Math.floor((height - 2) / blockRows)),
  ];
  // In plain rows of numbers: millions of samples are added up. First the choosing sums of a block, then its judging.
  const count = across * down;
  const [same, late, early] = [new Float64Array(2 * count), new Float64Array(2 * count), new Float64Array(2 * count)];
  const [top, bottom] = [new Float64Array(2 * count), new Float64Array(2 * count)];
  const columns = Math.min(width, across * blockColumns);
  for (let y = 1; y < Math.min(height - 1, down * blockRows + 1); y += 1) {
    const isTop = y % 2 === 0;
    const [crossedHere, crossedThere, changed] = isTop ? [late, early, top] : [early, late, bottom];
    const row = Math.floor((y - 1) / blockRows) * across;
    for (let half = 0; half < 2 * across; half += 1) {
      const from = (half >> 1) * blockColumns;
      const to = Math.min(columns, from + blockColumns);
      let [alike, here, there, change] = [0, 0, 0, 0];
      for (let i = y * width + from + (half & 1); i < y * width + to; i += 2) {
        const [a0, a1, a2] = [a[i - width] as number, a[i] as number, a[i + width] as number];
        const [b0, b1, b2] = [b[i - width] as number, b[i] as number, b[i + width] as number];
        alike += comb(a0, a1, a2);
        here += comb(a0, b1, a2);
        there += comb(b0, a1, b2);
        change += Math.abs(a1 - b1);
      }
      const into = 2 * row + half;
      same[into] = (same[into] as number) + alike;
      crossedHere[into] = (crossedHere[into] as number) + here;
      crossedThere[into] = (crossedThere[into] as number) + there;
      changed[into] = (changed[into] as number) + change;
    }
  }
  const blockAt = (at: number): Block => ({
    same: same[at] as number,
    late: late[at] as number,
    early: early[at] as number,
    top: top[at] as number,
    bottom: bottom[at] as number,
  });
  return Array.from({ length: count }, (_, n) => ({ chosenBy: blockAt(2 * n), judgedBy: blockAt(2 * n + 1) }));
}

/** The judging halves of the blocks that score highest by their choosing halves. */
function foremost(blocks: readonly { chosenBy: Block; judgedBy: Block }[], score: (block: Block) => number): Block[] {
  return [...blocks]
    .sort((p, q) => score(q.chosenBy) - score(p.chosenBy))
    .slice(0, Math.max(6, Math.round(blocks.length * judgedShare)))
    .map(({ judgedBy }) => judgedBy);
}

function meanAndError(values: readonly number[]): { mean: number; error: number } {
  const mean = values.reduce((x, y) => x + y, 0) / values.length;
  const variance = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / Math.max(1, values.length - 1);
  return { mean, error: Math.sqrt(variance / values.length) };
}

/**
 * What blocks say in which much moved: how much more comb the crosses have than the picture itself, and which cross
 * leads.
 */
interface Motion {
  more: number;
  lead: number;
}

/**
 * The motions of the blocks in which most moves, beyond what the quietest quarter shows: coding makes the rows of one
 * picture more alike than those of two, also where nothing moves.
 */
function motionsOf(blocks: readonly { chosenBy: Block; judgedBy: Block }[]): Motion[] {
  const motion = ({ same, late, early }: Block): Motion => ({ more: (late + early) / 2 - same, lead: early - late });
  const score = ({ same, late, early }: Block): number => Math.max(late, early) - same;
  const quiet = [...blocks]
    .sort((p, q) => score(p.chosenBy) - score(q.chosenBy))
    .slice(0, Math.ceil(blocks.length / 4))
    .map(({ judgedBy }) => motion(judgedBy));
  const still = meanAndError(quiet.map(({ more }) => more)).mean;
  return foremost(blocks, score)
    .map((block) => motion(block))
    .map(({ more, lead }) => ({ more: more - Math.max(0, still), lead }));
}

/**
 * What the motions of one pair of pictures say. In time, the fields of two pictures with the top first are T0 B0 T1 B1:
 * T1 and B0 are as near as T0 and B0, while T0 and B1 are three steps apart; with the bottom first it is the other way
 * round; of whole pictures T0 and B0 are one time, and both crosses are alike. So the lead over what the crosses have
 * more is 2, −2 or 0. Null where nothing moves for sure.
 */
function judge(motions: readonly Motion[]): { scan: Exclude<SeenScan, 'pulldown' | 'still'> | null } | null {
  const { mean, error } = meanAndError(motions.map(({ more }) => more));
  if (mean <= 0 || mean < sure * error) return null;
  const lead = meanAndError(motions.map((motion) => motion.lead));
  // A lead that may as well be none by its own error says nothing.
  const [least, most] = [(Math.abs(lead.mean) - 2 * lead.error) / mean, (Math.abs(lead.mean) + 2 * lead.error) / mean];
  return {
    scan: most < 0.8 ? 'progressive' : least > 0.8 ? (lead.mean > 0 ? 'top-field-first' : 'bottom-field-first') : null,
  };
}

/** Which field is the same in both pictures while the other moves; null where neither or both are. */
function repeatedField(blocks: readonly { chosenBy: Block; judgedBy: Block }[]): 'top' | 'bottom' | null {
  const chosen = foremost(blocks, ({ top, bottom }) => Math.max(top, bottom));
  const [top, bottom] = [
    chosen.reduce((sum, block) => sum + block.top, 0),
    chosen.reduce((sum, block) => sum + block.bottom, 0),
  ];
  return top < bottom * 0.35 ? 'top' : bottom < top * 0.35 ? 'bottom' : null;
}

/**
 * Whether repeated fields stand where 2:3 pulldown puts them: one field from the second picture of the pattern to the
 * third, the other from the fourth to the fifth. With the top first it is the top that repeats first. Null where they
 * do not.
 */
function pulldownOf(
  repeats: readonly { pair: number; field: 'top' | 'bottom' }[],
  pairs: number,
): Pick<ScanMeasure, 'phase' | 'topFieldFirst' | 'confidence'> | null {
  const all = [true, false].flatMap((topFieldFirst) =>
    [0, 1, 2, 3, 4].map((phase) => ({
      topFieldFirst,
      phase,
      count: repeats.filter(
        ({ pair, field }) => (((field === 'top') === topFieldFirst ? 1 : 3) - pair - phase) % 5 === 0,
      ).length,
    })),
  );
  const best = all.reduce((x, y) => (y.count > x.count ? y : x));
  // Two of every five neighbours repeat a field where there is pulldown, all at one place in the pattern.
  const share = best.count / Math.max(1, pairs);
  return pairs >= 8 && share > 0.28 && best.count >= 0.85 * repeats.length
    ? { phase: best.phase, topFieldFirst: best.topFieldFirst, confidence: Math.min(1, share / 0.4) }
    : null;
}

/** Decides how a clip is scanned from the fields of consecutive pictures, only where more moves than grain. */
export function measureScan(stretches: readonly Stretch[]): ScanMeasure {
  const votes = { progressive: 0, 'top-field-first': 0, 'bottom-field-first': 0 };
  let [judged, pairs] = [0, 0];
  const repeats: { pair: number; field: 'top' | 'bottom' }[] = [];
  for (const { first, width, height, pictures } of stretches) {
    for (let i = 0; i + 1 < pictures.length; i += 1) {
      const blocks = blocksOf(pictures[i] as Uint16Array, pictures[i + 1] as Uint16Array, width, height);
      if (blocks.every(({ judgedBy }) => judgedBy.top + judgedBy.bottom === 0)) continue;
      pairs += 1;
      const field = repeatedField(blocks);
      if (field) repeats.push({ pair: first + i, field });
      const said = judge(motionsOf(blocks));
      if (!said) continue;
      judged += 1;
      if (said.scan) votes[said.scan] += 1;
    }
  }
  const pulldown = pulldownOf(repeats, pairs);
  if (pulldown) return { seen: 'pulldown', judged: pairs, ...pulldown };
  const [seen, count] = (Object.entries(votes) as [keyof typeof votes, number][]).reduce((x, y) =>
    y[1] > x[1] ? y : x,
  );
  return count < 3
    ? { seen: 'still', confidence: 0, judged, phase: null }
    : { seen, confidence: count / judged, judged, phase: null };
}
