import type { ClipDescription } from '../clip/description.ts';
import { soundBytes } from '../recipe/rate.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { toNumber } from '../time/rational.ts';
import { wrapperBytes, type PlannedRate } from './target.ts';

/** Whether an output kept the rate that was asked for, as far as a clip of its length can. */

/**
 * By how much pictures may be more than was asked, as a share. An encoder evens its rate out over seconds, and has fewer
 * of them in a short clip. Measured with x264 on five painted scenes at 2, 8 and 30 Mb/s, ten frames to ten seconds: in
 * two passes at most 1.21 of it over 0.4 s, 1.28 over 1 s, 1.05 from 2 s on; in one 2.84, 1.77, 1.31 over 2 s and 1.16
 * over 10 s.
 */
export function rateTolerance(passes: PlannedRate['passes'], seconds: number): number {
  const [always, eachSecond] = passes === 2 ? [0.05, 0.25] : [0.15, 0.8];
  return always + eachSecond / Math.max(seconds, 1e-3);
}

/** A line of a proof. */
interface Line {
  name: string;
  planned: string;
  found: string;
  holds: boolean;
}

function secondsOf({ video }: OutputPlan): number {
  return video.frames / toNumber(video.rate);
}

function megabits(bitsPerSecond: number): string {
  return `${(bitsPerSecond / 1e6).toFixed(2)} Mb/s`;
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
}

/**
 * The rate that was asked against the one that came: more than a clip of this length is allowed does not hold. Less holds
 * and is said: pictures that are told with fewer bits take no more.
 */
export function rateAsked(plan: OutputPlan, { sizeBytes }: Pick<ClipDescription, 'sizeBytes'>): Line[] {
  const { rate, sound, video } = plan;
  if (!rate) return [];
  const seconds = secondsOf(plan);
  const beside = soundBytes(sound) + wrapperBytes({ seconds, frames: video.frames, soundTracks: sound.tracks.length });
  const found = (Math.max(0, sizeBytes - beside) * 8) / seconds;
  const most = rate.bitsPerSecond * (1 + rateTolerance(rate.passes, seconds));
  const share = found / rate.bitsPerSecond;
  return [
    {
      name: 'rate asked for',
      planned: `${megabits(rate.bitsPerSecond)}, over ${seconds.toFixed(1)} s at most ${megabits(most)}`,
      found: `${megabits(found)}${share < 0.9 ? `: its pictures took ${percent(share)} of it` : ''}`,
      holds: found <= most,
    },
  ];
}

/** What a clip of this length cannot be held to, for before it is made; null where it can. */
export function rateWarning(plan: OutputPlan): string | null {
  const { rate } = plan;
  if (!rate) return null;
  const tolerance = rateTolerance(rate.passes, secondsOf(plan));
  if (tolerance <= 0.25) return null;
  return `Clips this short do not keep a rate: up to ${(Math.ceil((1 + tolerance) * 10 - 1e-6) / 10).toFixed(1)} times what is asked for counts as kept${rate.passes === 1 ? '; two passes come closer' : ''}`;
}
