import { fail, ok, type Result } from '../result.ts';
import { equal, parseRational, rational, toNumber, type Rational } from './rational.ts';

/** The frame rates that productions and delivery use, in frames a second. The thousand-and-first ones are
 * the NTSC family (SMPTE ST 170, ST 12-1); written by their usual decimals. */
export const standardRates: readonly { rate: Rational; written: string }[] = [
  { rate: rational(24000, 1001), written: '23.976' },
  { rate: rational(24), written: '24.000' },
  { rate: rational(25), written: '25.000' },
  { rate: rational(30000, 1001), written: '29.97' },
  { rate: rational(30), written: '30.000' },
  { rate: rational(48000, 1001), written: '47.952' },
  { rate: rational(48), written: '48.000' },
  { rate: rational(50), written: '50.000' },
  { rate: rational(60000, 1001), written: '59.94' },
  { rate: rational(60), written: '60.000' },
  { rate: rational(96), written: '96.000' },
  { rate: rational(100), written: '100.000' },
  { rate: rational(120000, 1001), written: '119.88' },
  { rate: rational(120), written: '120.000' },
];

/** Rates as people write them: 23.976 is never 24, nor 59.94 60. Others get three decimals. */
export function formatRate(rate: Rational): string {
  return standardRates.find((row) => equal(row.rate, rate))?.written ?? toNumber(rate).toFixed(3);
}

/** Reads `23.976`, `23.98`, `29.97`, `24000/1001`, `25`. Decimals of the NTSC family become their exact fraction. */
export function parseRate(text: string): Result<Rational> {
  const parsed = parseRational(text);
  if (!parsed.ok) return fail(`${JSON.stringify(text)} is not a frame rate`, 'Write it as 23.976, 25 or 24000/1001');
  if (parsed.value.num <= 0 || toNumber(parsed.value) > 10_000) {
    return fail(`${text} is not a frame rate anything can play`, 'Write a rate above 0 and up to 10000');
  }
  return ok(text.includes('.') ? snapRate(parsed.value, 2.5e-4) : parsed.value);
}

/**
 * The standard rate that lies within `tolerance` (a share of the rate), else the rate itself. Wrappers with
 * coarse clocks state 59.94 as 19001/317 and the like; 24 and 23.976 are 1e-3 apart, so 1e-4 never mixes them.
 */
export function snapRate(rate: Rational, tolerance = 1e-4): Rational {
  const value = toNumber(rate);
  const near = standardRates
    .map((row) => ({ row, off: Math.abs(toNumber(row.rate) - value) / toNumber(row.rate) }))
    .filter((entry) => entry.off <= tolerance)
    .sort((a, b) => a.off - b.off)[0];
  return near ? near.row.rate : rate;
}

/** The standard rate nearest to a measured one, by ratio. Used where a varying rate must become one that lasts. */
export function nearestStandardRate(rate: Rational): Rational {
  const value = Math.log(toNumber(rate));
  return standardRates.reduce((best, row) =>
    Math.abs(Math.log(toNumber(row.rate)) - value) < Math.abs(Math.log(toNumber(best.rate)) - value) ? row : best,
  ).rate;
}

/** Timecode counts whole numbers a second: 24 at 23.976, 30 at 29.97, 60 at 59.94 (SMPTE ST 12-1). */
export function nominalFramesPerSecond(rate: Rational): number {
  return Math.round(toNumber(rate));
}
