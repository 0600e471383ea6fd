/**
 * Hours of the day in which no leg begins, by the clock of the machine that works: from one time of day until another,
 * past midnight where that is earlier.
 */
export interface QuietHours {
  /** `HH:MM`. */
  from: string;
  until: string;
}

/** Minutes since midnight of `HH:MM`; null for anything else. */
export function minuteOfDay(text: string): number | null {
  const parts = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(text);
  return parts ? Number(parts[1]) * 60 + Number(parts[2]) : null;
}

const day = 24 * 60;

/**
 * Minutes until work may begin, at so many minutes since midnight: 0 outside quiet hours. The same time twice is no
 * quiet at all.
 */
export function minutesUntilWork({ from, until }: QuietHours, minute: number): number {
  const [begin, end] = [minuteOfDay(from), minuteOfDay(until)];
  if (begin === null || end === null) return 0;
  const length = (end - begin + day) % day;
  const into = (((minute - begin) % day) + day) % day;
  return into < length ? length - into : 0;
}

/**
 * Quiet stretches from `now` on, in milliseconds since 1970, `count` days of them; `offsetMinutes` is how far the
 * machine's clock is ahead of UTC.
 */
export function quietStretches(
  quiet: QuietHours | null,
  now: number,
  offsetMinutes: number,
  count = 7,
): { start: number; end: number }[] {
  const [begin, end] = quiet ? [minuteOfDay(quiet.from), minuteOfDay(quiet.until)] : [null, null];
  if (begin === null || end === null || begin === end) return [];
  const length = (end - begin + day) % day;
  const midnight = Math.floor((now / 60_000 + offsetMinutes) / day) * day - offsetMinutes;
  return Array.from({ length: count + 1 }, (_, index) => (midnight + (index - 1) * day + begin) * 60_000)
    .map((start) => ({ start, end: start + length * 60_000 }))
    .filter((stretch) => stretch.end > now);
}

/** When something that could begin at `time` may: then, or at the end of the quiet stretch that it falls in. */
export function afterQuiet(time: number, quiet: readonly { start: number; end: number }[]): number {
  return quiet.find(({ start, end }) => start <= time && time < end)?.end ?? time;
}
