/** Hours that are asked for, as they are typed: `HH:MM`, of the next day and night. */

/** The next time the clock shows it, as ISO 8601; null where it is no hour. */
export function nextAt(time: string, now = new Date()): string | null {
  const parts = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(time.trim());
  if (!parts) return null;
  const next = new Date(now);
  next.setHours(Number(parts[1]), Number(parts[2]), 0, 0);
  if (next.getTime() <= now.getTime()) next.setDate(next.getDate() + 1);
  return next.toISOString();
}

/** Whether something is typed that is no hour (yet). */
export function isWrongHour(time: string): boolean {
  return time.trim() !== '' && nextAt(time) === null;
}

/** When something begins that is to begin at an hour: now where none is said. Milliseconds since 1970. */
export function beginsAt(time: string, now = new Date()): number {
  const at = nextAt(time, now);
  return at ? Date.parse(at) : now.getTime();
}

/** Whether what is ready then comes after the hour that it is wanted by. */
export function isLate(wantedBy: string, ready: number, now = new Date()): boolean {
  const wanted = nextAt(wantedBy, now);
  return wanted !== null && ready > Date.parse(wanted);
}
