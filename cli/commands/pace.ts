import { progressLine } from './output.ts';

/** A minute or an hour of seconds, as people write it: `0:09`, `12:30`, `1:02:05`. */
function clockOf(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor(whole / 60) % 60, whole % 60];
  const two = (value: number): string => String(value).padStart(2, '0');
  return hours > 0 ? `${hours}:${two(minutes)}:${two(rest)}` : `${minutes}:${two(rest)}`;
}

/**
 * How far something is, at what rate, and how long it will still take by that rate; without a rate before anything is
 * done. `unit` is said after the rate: `a second`, `MB/s`.
 */
export function sayPace(done: number, total: number, elapsedMs: number, { unit = 'a second', per = 1 } = {}): string {
  if (done <= 0 || elapsedMs < 500) return '';
  const rate = done / (elapsedMs / 1000);
  const shown = rate / per;
  return `, ${shown < 10 ? shown.toFixed(1) : shown.toFixed(0)} ${unit}, ${clockOf((total - done) / rate)} left`;
}

/** A line of progress with rate and time left, for a terminal; counts from when it is made. */
export class Pace {
  private readonly since = performance.now();

  constructor(private readonly what: string) {}

  /** So many of so many are done. */
  at(done: number, total: number): void {
    progressLine(`${this.what} ${done} of ${total}${sayPace(done, total, performance.now() - this.since)}`);
  }
}
