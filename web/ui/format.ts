import type { VideoDescription } from '@relay/core/clip/description';
import { formatRate } from '@relay/core/time/rate';

export { sayBytes, splitBytes } from '@relay/core/size/sayBytes';

/** A span of time in words that fit a line: `42 s`, `3 min 05 s`, `1 h 20 min`. */
export function saySpan(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  if (whole < 60) return `${whole} s`;
  if (whole < 3600) return `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, '0')} s`;
  return `${Math.floor(whole / 3600)} h ${String(Math.floor((whole % 3600) / 60)).padStart(2, '0')} min`;
}

export function sayClock(date: Date, withSeconds = false): string {
  return date.toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    ...(withSeconds ? { second: '2-digit' } : {}),
  });
}

export function sayRate(video: Pick<VideoDescription, 'rate' | 'rateConstant'>): string {
  return video.rateConstant ? formatRate(video.rate) : 'var.';
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** A name as a folder: small letters, digits and dashes; `otherwise` when nothing of it is left. */
export function slug(name: string, otherwise: string): string {
  return (
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || otherwise
  );
}
