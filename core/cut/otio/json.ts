import { snapRate } from '../../time/rate.ts';
import { rational, type Rational } from '../../time/rational.ts';
import type { Metadata } from '../cut.ts';

/** An object of a list in OpenTimelineIO's JSON, of which nothing is certain. */
export type Otio = Readonly<Record<string, unknown>>;

export function isObject(value: unknown): value is Otio {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

export function objectsOf(value: unknown): Otio[] {
  return Array.isArray(value) ? value.filter(isObject) : [];
}

export function textOf(value: unknown): string | null {
  return typeof value === 'string' && value !== '' ? value : null;
}

/** The name of an object's schema without its version: `Clip` of `Clip.2`. */
export function schemaOf(value: Otio): string {
  const schema = textOf(value.OTIO_SCHEMA) ?? '';
  const dot = schema.lastIndexOf('.');
  return dot > 0 ? schema.slice(0, dot) : schema;
}

export function metadataOf(value: Otio): Metadata | undefined {
  return isObject(value.metadata) && Object.keys(value.metadata).length > 0 ? value.metadata : undefined;
}

/** A time within a list: how many units, and units a second. */
export interface RationalTime {
  value: Rational;
  rate: Rational;
}

/** Larger numbers are no times. */
const most = 1e11;

/** The simplest fraction within a billionth of a number: 1/3 of 0.3333333333. */
export function fractionOf(value: number): Rational {
  const [whole, sign] = [Math.abs(value), value < 0 ? -1 : 1];
  let [low, high] = [
    { num: 0, den: 1 },
    { num: 1, den: 0 },
  ];
  let rest = whole;
  for (let step = 0; step < 40; step += 1) {
    const part = Math.floor(rest);
    const next = { num: part * high.num + low.num, den: part * high.den + low.den };
    if (next.den > 1_000_000 || !Number.isSafeInteger(next.num)) break;
    [low, high] = [high, next];
    if (Math.abs(next.num / next.den - whole) <= 1e-9 * Math.max(1, whole)) break;
    rest = 1 / (rest - part);
    if (!Number.isFinite(rest)) break;
  }
  return high.den === 0 ? rational(Math.round(value)) : rational(sign * high.num, high.den);
}

export function timeOf(value: unknown): RationalTime | null {
  if (!isObject(value)) return null;
  const { value: units, rate } = value;
  if (typeof units !== 'number' || typeof rate !== 'number') return null;
  if (!(Math.abs(units) < most) || !(rate > 0 && rate < 1e7)) return null;
  return { value: fractionOf(units), rate: snapRate(fractionOf(rate), 2.5e-4) };
}

export interface TimeRange {
  start: RationalTime;
  duration: RationalTime;
}

export function rangeOf(value: unknown): TimeRange | null {
  if (!isObject(value)) return null;
  const [start, duration] = [timeOf(value.start_time), timeOf(value.duration)];
  return start && duration ? { start, duration } : null;
}
