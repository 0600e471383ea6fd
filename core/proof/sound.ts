import type { Comparison } from './proof.ts';
import type { SoundPlan, SoundTrackPlan } from '../recipe/legPlan.ts';
import { toNumber } from '../time/rational.ts';

/** A stretch of decoded sound: its first sample since the picture's beginning, and one row of samples, −1 to 1, for each channel. */
export interface Excerpt {
  first: number;
  channels: Float32Array[];
}

/** Farthest that sound is looked for, in samples at 48 kHz: 20 ms. */
const reach = 960;

/** A channel of a track that is planned, and how many of the original's channels come before the track. */
interface PlannedChannel {
  track: SoundTrackPlan;
  channel: number;
  trackStart: number;
}

/** What a channel of an output should be: the original's channels, mixed, and stretched by reading between samples. */
function expected(
  { track, channel, trackStart }: PlannedChannel,
  original: Excerpt,
  stretch: number,
  first: number,
  length: number,
): Float64Array {
  const feeds = track.mix ? (track.mix[channel] ?? []) : [{ channel: trackStart + channel, gain: 1 }];
  const out = new Float64Array(length);
  for (const { channel: from, gain } of feeds) {
    const row = original.channels[from];
    if (!row) continue;
    for (let i = 0; i < length; i += 1) {
      const place = (first + i) / stretch - original.first;
      const whole = Math.floor(place);
      if (whole < 0 || whole >= row.length) continue;
      const rest = place - whole;
      out[i] =
        (out[i] as number) +
        gain * ((row[whole] as number) * (1 - rest) + (row[Math.min(row.length - 1, whole + 1)] as number) * rest);
    }
  }
  return out;
}

function power(values: Float32Array | Float64Array): number {
  let sum = 0;
  for (const value of values) sum += value * value;
  return sum / Math.max(1, values.length);
}

/** The lag, in samples, at which two rows are most alike: their cross-correlation is largest. Positive: `found` is late. */
export function lagOf(wanted: Float64Array, found: Float32Array | Float64Array): { lag: number; likeness: number } {
  const sum = (lag: number): number => {
    let total = 0;
    for (let i = Math.max(0, -lag); i < wanted.length && i + lag < found.length; i += 1)
      total += (wanted[i] as number) * (found[i + lag] as number);
    return total;
  };
  const scale = Math.sqrt(power(wanted) * wanted.length * power(found) * found.length);
  let best = { lag: 0, value: sum(0) };
  // Nothing is more like than the same (Cauchy and Schwarz): sound that only was copied needs no search.
  if (best.value >= scale * 0.999_999) return { lag: 0, likeness: scale > 0 ? best.value / scale : 0 };
  for (let lag = -reach; lag <= reach; lag += 1) {
    const value = sum(lag);
    if (value > best.value) best = { lag, value };
  }
  return { lag: best.lag, likeness: scale > 0 ? best.value / scale : 0 };
}

/** Samples at 48 kHz that one value of an envelope is made of: 2 ms. */
const hop = 96;
/** Farthest that an envelope is looked for: 200 ms. */
const envelopeReach = 100;
/** An envelope that hardly moves tells no place, and one that is unlike its original none either. Chosen. */
const [leastMovement, leastLikeness] = [0.25, 0.6];

/** How loud a row is from {@link hop} to hop, less its mean; null where it hardly moves. */
function envelope(row: Float32Array | Float64Array): Float64Array | null {
  const values = Float64Array.from({ length: Math.floor(row.length / hop) }, (_, i) =>
    Math.sqrt(power(row.subarray(i * hop, (i + 1) * hop))),
  );
  const mean = values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
  const moved = values.map((value) => value - mean);
  return values.length > 2 * envelopeReach && Math.sqrt(power(moved)) > leastMovement * mean ? moved : null;
}

/**
 * How late one row is against another by how loud they are, in milliseconds: what is cut anew to keep its pitch has other waves, but swells
 * where it did. Null where sound is too even to tell, or shorter than 400 ms.
 */
export function swellLag(wanted: Float32Array | Float64Array, found: Float32Array | Float64Array): number | null {
  const [a, b] = [envelope(wanted), envelope(found)];
  if (!a || !b) return null;
  const scale = Math.sqrt(power(a) * a.length * power(b) * b.length);
  let best = { lag: 0, value: -Infinity };
  for (let lag = -envelopeReach; lag <= envelopeReach; lag += 1) {
    let sum = 0;
    for (let i = Math.max(0, -lag); i < a.length && i + lag < b.length; i += 1)
      sum += (a[i] as number) * (b[i + lag] as number);
    if (sum > best.value) best = { lag, value: sum };
  }
  return best.value >= leastLikeness * scale ? (best.lag * hop) / 48 : null;
}

/** The stretch of a row, `length` samples long, with the most sound in it. */
function loudest(row: Float64Array, length: number): number {
  if (row.length <= length) return 0;
  let [sum, best, at] = [0, -1, 0];
  for (let i = 0; i < row.length; i += 1) {
    sum += (row[i] as number) ** 2 - (i >= length ? (row[i - length] as number) ** 2 : 0);
    if (i >= length - 1 && sum > best) [best, at] = [sum, i - length + 1];
  }
  return at;
}

/** What is above it, coders leave out first: how loud sound is that was coded with loss is told by what lies below. Chosen; white noise at 64 kb/s a channel keeps it within 0.2 dB (seen by trying). */
const keptBelow = 10_000;
const taps = 63;

/** A low-pass for 48 kHz that ends at {@link keptBelow}: a sinc under a Hann window, of unit gain at 0 Hz. */
const lowPass = ((): Float64Array => {
  const middle = (taps - 1) / 2;
  const raw = Float64Array.from({ length: taps }, (_, i) => {
    const x = (2 * keptBelow * (i - middle)) / 48_000;
    return (
      (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) *
      (0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 1)) / (taps + 1)))
    );
  });
  const sum = raw.reduce((a, b) => a + b, 0);
  return raw.map((value) => value / sum);
})();

/** What of sound lies below {@link keptBelow}; shorter by the filter's length, all of it where it is no longer than that. */
function below(values: Float32Array | Float64Array): Float64Array {
  if (values.length <= taps) return Float64Array.from(values);
  const out = new Float64Array(values.length - taps + 1);
  for (let i = 0; i < out.length; i += 1) {
    let sum = 0;
    for (let k = 0; k < taps; k += 1) sum += (values[i + k] as number) * (lowPass[k] as number);
    out[i] = sum;
  }
  return out;
}

/** Below this power nothing is heard: −70 dB of full scale. */
const silent = 10 ** -7;

/**
 * Holds excerpts of an output's sound against the original's, channel by channel: offset by cross-correlation, under
 * 1 ms, and level, within 0.1 dB; of sound coded with loss within 0.5 dB, below 10 kHz. Where pitch is kept, sound is cut anew by the filter: it is held by where
 * it swells, within 40 ms, and its level within 1.3 dB: unlike waves laid over each other under a Hann window keep three quarters of their power, 1.25 dB less.
 */
// eslint-disable-next-line max-lines-per-function -- one pass over all channels, and the list of what was found
export function soundComparisons(
  sound: SoundPlan,
  originalChannels: readonly number[],
  original: readonly Excerpt[],
  output: readonly (readonly Excerpt[])[],
): Comparison[] {
  const kept = sound.stretch?.pitch === 'kept';
  // What is coded with loss may differ a little in level; in sync it must be all the same.
  const decibels = kept ? 1.3 : sound.coding ? 0.5 : 0.1;
  const stretch = sound.stretch ? toNumber(sound.stretch.by) : 1;
  const lossy = sound.coding !== undefined && stretch === 1;
  let [worstLag, worstLevel, compared, swells, worstSwell] = [0, 0, 0, 0, 0];
  const unlike: string[] = [];
  sound.tracks.forEach((track, t) => {
    const trackStart = originalChannels.slice(0, track.from).reduce((a, b) => a + b, 0);
    (output[t] ?? []).forEach((excerpt, e) => {
      const from = original[e];
      if (!from) return;
      excerpt.channels.forEach((row, channel) => {
        const planned = { track, channel, trackStart };
        const wanted = expected(planned, from, stretch, excerpt.first, row.length);
        // Reading between samples dims the highest tones; the level is taken of the sound as it was before.
        const levelWanted =
          stretch === 1
            ? power(wanted)
            : power(expected(planned, from, 1, from.first, Math.floor(row.length / stretch)));
        const levelFound = power(row);
        if (levelWanted < silent) {
          if (levelFound > silent * 10)
            unlike.push(`channel ${channel + 1} of track ${t + 1} carries sound that the original has not`);
          return;
        }
        compared += 1;
        const swell = kept ? swellLag(wanted, row) : null;
        if (swell !== null) swells += 1;
        if (swell !== null && Math.abs(swell) > Math.abs(worstSwell)) worstSwell = swell;
        const length = Math.min(row.length, 8192);
        const start = loudest(wanted, length);
        const [there, here] = [wanted.slice(start, start + length), row.subarray(start, start + length)];
        const { lag, likeness } = lossy ? lagOf(below(there), below(here)) : lagOf(there, here);
        if (!kept) worstLag = Math.abs(lag) > Math.abs(worstLag) ? lag : worstLag;
        if (!kept && likeness < 0.7) unlike.push(`channel ${channel + 1} of track ${t + 1} is not the sound planned`);
        // Sound of which next to nothing lies lower is held by all of it.
        const [low, lowFound] = lossy ? [power(below(wanted)), power(below(row))] : [levelWanted, levelFound];
        const level =
          low < silent
            ? 10 * Math.log10(Math.max(1e-12, levelFound) / levelWanted)
            : 10 * Math.log10(Math.max(1e-12, lowFound) / low);
        if (Math.abs(level) > Math.abs(worstLevel)) worstLevel = level;
      });
    });
  });
  if (compared === 0 && unlike.length === 0)
    return sound.tracks.length > 0
      ? [{ name: 'sound in sync', planned: 'offset under 1 ms', found: 'silent where it was compared', holds: true }]
      : [];
  return [
    ...(kept
      ? [
          {
            name: 'sound in step',
            planned: 'within 40 ms by where it swells',
            found: swells > 0 ? `${worstSwell.toFixed(0)} ms over ${swells} stretches` : 'too even to tell',
            holds: Math.abs(worstSwell) <= 40,
          },
        ]
      : []),
    ...(kept
      ? []
      : [
          {
            name: 'sound in sync',
            planned: 'offset under 1 ms',
            found: unlike[0] ?? `${((worstLag / 48_000) * 1000).toFixed(2)} ms over ${compared} stretches`,
            holds: unlike.length === 0 && Math.abs(worstLag) < 48,
          },
        ]),
    {
      name: 'sound level',
      planned: `within ${decibels} dB${lossy ? ' below 10 kHz' : ''}`,
      found: `${worstLevel >= 0 ? '+' : '−'}${Math.abs(worstLevel).toFixed(3)} dB`,
      holds: Math.abs(worstLevel) <= decibels,
    },
  ];
}
