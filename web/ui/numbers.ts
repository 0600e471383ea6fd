/** What a number field lets through. */
export interface NumberLimits {
  least: number;
  most: number;
  /** Only whole numbers. */
  whole?: boolean;
  /** An empty field says something too: that nothing is said. */
  optional?: boolean;
  unit?: string;
}

export type NumberRead = { ok: true; value: number | null } | { ok: false; why: string };

/** A limit or a value as text: without a digit that says nothing. */
export function sayNumber(value: number, digits = 4): string {
  return String(Number(value.toFixed(digits)));
}

/** What may be typed, in words: "0 to 51", "whole numbers from 16 to 16384 px". */
export function sayLimits({ least, most, whole = false, unit }: NumberLimits): string {
  const range = most === Infinity ? `${sayNumber(least)} or more` : `${sayNumber(least)} to ${sayNumber(most)}`;
  return `${whole ? 'whole numbers, ' : ''}${range}${unit === undefined ? '' : ` ${unit}`}`;
}

/**
 * Reads what a person typed: a decimal point or comma, any minus, spaces around. Says why where it is no number that
 * the field can take.
 */
export function readNumber(text: string, limits: NumberLimits): NumberRead {
  const plain = text.trim().replace(/^[−–]/, '-').replace(',', '.');
  if (plain === '')
    return limits.optional ? { ok: true, value: null } : { ok: false, why: `A number is wanted: ${sayLimits(limits)}` };
  if (!/^[+-]?(?:\d+\.?\d*|\.\d+)$/.test(plain)) return { ok: false, why: `Not a number; ${sayLimits(limits)}` };
  const value = Number(plain);
  const fits = value >= limits.least && value <= limits.most && (!limits.whole || Number.isInteger(value));
  return fits ? { ok: true, value } : { ok: false, why: `Takes ${sayLimits(limits)}` };
}

/** One step up or down from a value, kept within the limits and on a grid without stray digits. */
export function stepped(value: number, by: number, { least, most }: NumberLimits): number {
  return Math.min(most, Math.max(least, Number((value + by).toFixed(6))));
}
