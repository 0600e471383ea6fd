import { addEstimates, t90, type Estimate } from './estimate.ts';

/** One output twice: as it is reckoned by rates alone, and by sampled pictures. */
export interface SampledPair {
  rough: Estimate;
  sampled: Estimate;
}

/** However alike the sampled ones were, so much is left open of the others; and where one was sampled alone, half. */
const [narrowest, alone] = [0.1, 0.5];

/**
 * What outputs of a deliverable take together where only some were sampled: the others by what those took over what was said of them.
 * The range of the others is Student's t over the sampled ones' shares, nine times in ten.
 */
export function scaleUp(pairs: readonly SampledPair[], others: readonly Estimate[]): Estimate {
  const known = addEstimates(pairs.map(({ sampled }) => sampled));
  if (others.length === 0) return known;
  if (pairs.length === 0 || others.every(({ known: how }) => how === 'exact'))
    return addEstimates([...pairs.map(({ sampled }) => sampled), ...others]);
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  const share =
    sum(pairs.map(({ sampled }) => sampled.bytes.likely)) /
    Math.max(1, sum(pairs.map(({ rough }) => rough.bytes.likely)));
  const shares = pairs.map(
    ({ sampled, rough }) => sampled.bytes.likely / Math.max(1, rough.bytes.likely) / Math.max(1e-9, share),
  );
  const n = pairs.length;
  const spread =
    n < 2
      ? alone
      : (t90[n - 1] ?? 1.8) *
        Math.sqrt(sum(shares.map((one) => (one - 1) ** 2)) / (n - 1)) *
        Math.sqrt(1 / n + 1 / others.length);
  const half = Math.min(1, Math.max(narrowest, spread));
  const likely = share * sum(others.map(({ bytes }) => bytes.likely));
  const rest: Estimate = {
    bytes: { least: Math.floor(likely * (1 - half)), likely: Math.round(likely), most: Math.ceil(likely * (1 + half)) },
    known: 'by sampled pictures',
  };
  return addEstimates([known, rest]);
}

/** Which of so many are sampled: at most `count`, evenly spread over their order. */
export function spreadOver(total: number, count: number): number[] {
  const wanted = Math.min(total, count);
  return Array.from({ length: wanted }, (_, index) => Math.floor(((index + 0.5) * total) / wanted));
}
