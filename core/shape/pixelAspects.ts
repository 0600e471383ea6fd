import { withoutEnd } from '../text/trimmed.ts';
import { fail, ok, type Result } from '../result.ts';
import { equal, parseRational, rational, toNumber, type Rational } from '../time/rational.ts';

/** Sample aspect ratios with an index of their own in ITU-T H.264 and H.273, Table E-1 (aspect_ratio_idc 1 to 16). */
export const codedAspects: readonly { index: number; aspect: Rational }[] = [
  [1, 1],
  [12, 11],
  [10, 11],
  [16, 11],
  [40, 33],
  [24, 11],
  [20, 11],
  [32, 11],
  [80, 33],
  [18, 11],
  [15, 11],
  [64, 33],
  [160, 99],
  [4, 3],
  [3, 2],
  [2, 1],
].map(([num, den], index) => ({ index: index + 1, aspect: rational(num as number, den as number) }));

/**
 * Standard-definition pixels: Recommendation ITU-R BT.601 samples both systems at 13.5 MHz; SMPTE RP 187 gives the
 * active picture as 710.85 (here 704) of 720 samples for 4:3, from which 10:11 and 12:11 follow, and 40:33, 16:11 for
 * 16:9.
 */
export const standardDefinition: readonly {
  name: string;
  raster: { width: number; heights: readonly number[] };
  aspect: Rational;
}[] = [
  { name: '525 lines, 4:3', raster: { width: 720, heights: [480, 486] }, aspect: rational(10, 11) },
  { name: '525 lines, 16:9', raster: { width: 720, heights: [480, 486] }, aspect: rational(40, 33) },
  { name: '625 lines, 4:3', raster: { width: 720, heights: [576] }, aspect: rational(12, 11) },
  { name: '625 lines, 16:9', raster: { width: 720, heights: [576] }, aspect: rational(16, 11) },
];

/**
 * Squeezes of anamorphic lenses as they are engraved and what they are; 1.33 means four thirds (common practice, no
 * source).
 */
export const squeezes: readonly { written: string; squeeze: Rational }[] = [
  { written: '1.25', squeeze: rational(5, 4) },
  { written: '1.33', squeeze: rational(4, 3) },
  { written: '1.5', squeeze: rational(3, 2) },
  { written: '1.6', squeeze: rational(8, 5) },
  { written: '1.65', squeeze: rational(33, 20) },
  { written: '1.8', squeeze: rational(9, 5) },
  { written: '2', squeeze: rational(2) },
];

/** The pixel aspects between which anything is believed. */
export function aspectProblem(aspect: Rational): string | null {
  if (aspect.num <= 0 || aspect.den <= 0) return `${aspect.num}:${aspect.den} is no pixel aspect`;
  return aspect.num > aspect.den * 4 || aspect.den > aspect.num * 4
    ? `${aspect.num}:${aspect.den} is no pixel aspect that anything has`
    : null;
}

/** Reads a pixel aspect: `12:11`, `4/3`, `1.0667`. Fails for 0:0 and for what no camera makes. */
export function parsePixelAspect(text: string): Result<Rational> {
  const remedy = 'State a pixel aspect between 1:4 and 4:1, such as 4:3';
  const parsed = parseRational(text);
  if (!parsed.ok) return fail(parsed.problem.what, remedy);
  const wrong = aspectProblem(parsed.value);
  return wrong ? fail(wrong, remedy) : ok(parsed.value);
}

/** Reads a lens's squeeze: `1.33`, `1.333` and `4:3` are four thirds; others are taken as written. 1 is none. */
export function parseSqueeze(text: string): Result<Rational> {
  const parsed = parseRational(text.trim().replace(/[x×]$/i, ''));
  const remedy = 'State a squeeze between 1 and 4, such as 1.33';
  if (!parsed.ok) return fail(parsed.problem.what, remedy);
  const value = toNumber(parsed.value);
  if (value < 1 || value > 4) return fail(`a squeeze of ${text} is no lens's`, remedy);
  const third = rational(4, 3);
  return ok(/^1\.3{2,}$/.test(text.trim().replace(/[x×]$/i, '')) ? third : parsed.value);
}

/** A squeeze as it is engraved: `1.33`, `2`. */
export function formatSqueeze(squeeze: Rational): string {
  return (
    squeezes.find((row) => equal(row.squeeze, squeeze))?.written ??
    withoutEnd(withoutEnd(toNumber(squeeze).toFixed(3), '0'), '.')
  );
}
