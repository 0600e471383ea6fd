import { fail, ok, type Result } from '../result.ts';

/** An exact fraction in lowest terms; `den` is always above zero. Rates are in frames a second. */
export interface Rational {
  num: number;
  den: number;
}

function gcd(a: number, b: number): number {
  let [x, y] = [Math.abs(a), Math.abs(b)];
  while (y !== 0) [x, y] = [y, x % y];
  return x;
}

/**
 * The fraction num/den in lowest terms.
 * @throws RangeError when either is not a safe integer or den is zero: a programming error, not bad input.
 */
export function rational(num: number, den = 1): Rational {
  if (!Number.isSafeInteger(num) || !Number.isSafeInteger(den) || den === 0) {
    throw new RangeError(`not a fraction: ${num}/${den}`);
  }
  const divisor = gcd(num, den) * (den < 0 ? -1 : 1) || 1;
  return { num: num / divisor + 0, den: den / divisor };
}

/** Reads `24000/1001`, `16:15`, `25` or `1.33`. Decimals are taken as written (1.33 is 133/100). */
export function parseRational(text: string): Result<Rational> {
  const fraction = /^\s*(-?\d{1,12})\s*[/:]\s*(\d{1,12})\s*$/.exec(text);
  if (fraction) {
    const [num, den] = [Number(fraction[1]), Number(fraction[2])];
    return den === 0 ? fail(`${text} divides by zero`, 'Write a fraction such as 4:3') : ok(rational(num, den));
  }
  const decimal = /^\s*(-?\d{1,9})(?:\.(\d{1,12}))?\s*$/.exec(text);
  if (decimal) {
    const places = decimal[2]?.length ?? 0;
    const digits = Number(`${decimal[1]}${decimal[2] ?? ''}`);
    if (Number.isSafeInteger(digits)) return ok(rational(digits, 10 ** places));
    return fail(
      `${JSON.stringify(text)} has more digits than can be told apart`,
      'Write a fraction such as 24000/1001, or fewer places',
    );
  }
  return fail(`${JSON.stringify(text)} is not a number`, 'Write a fraction such as 24000/1001, or a decimal');
}

export function add(a: Rational, b: Rational): Rational {
  const shared = rational(a.den, b.den);
  return rational(a.num * shared.den + b.num * shared.num, a.den * shared.den);
}

export function multiply(a: Rational, b: Rational): Rational {
  // Crosswise reduction first keeps the products inside safe integers for every rate and time base in use.
  const left = rational(a.num, b.den);
  const right = rational(b.num, a.den);
  return rational(left.num * right.num, left.den * right.den);
}

export function invert(a: Rational): Rational {
  return rational(a.den, a.num);
}

export function divide(a: Rational, b: Rational): Rational {
  return multiply(a, invert(b));
}

/** Below zero when a < b, zero when equal, above zero when a > b; exact. */
export function compare(a: Rational, b: Rational): number {
  const difference = BigInt(a.num) * BigInt(b.den) - BigInt(b.num) * BigInt(a.den);
  return difference < 0n ? -1 : difference > 0n ? 1 : 0;
}

export function equal(a: Rational, b: Rational): boolean {
  return compare(a, b) === 0;
}

export function toNumber(a: Rational): number {
  return a.num / a.den;
}

/** `a × count`, rounded half up to a whole number; exact for counts and fractions of any size in use. */
export function scaleToInteger(count: number, a: Rational): number {
  const numerator = BigInt(count) * BigInt(a.num) * 2n + BigInt(a.den);
  const denominator = BigInt(a.den) * 2n;
  const quotient = numerator / denominator;
  return Number(numerator % denominator < 0n ? quotient - 1n : quotient);
}

export function formatFraction(a: Rational, separator: '/' | ':' = '/'): string {
  return `${a.num}${separator}${a.den}`;
}
