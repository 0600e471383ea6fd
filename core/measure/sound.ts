import { LoudnessMeter } from './loudness.ts';
import type { ChannelMeasure } from './measured.ts';

/** The outline of one channel's sound: its smallest and largest sample in each of `bins` equal stretches, -1 to 1. */
export interface Outline {
  low: number[];
  high: number[];
}

/** Takes 16-bit samples, channels interleaved, in pieces of any length, and keeps outline, peak, rms and loudness of each channel. */
export class SoundMeter {
  private readonly low: Float32Array[];
  private readonly high: Float32Array[];
  private readonly squares: Float64Array;
  private readonly peaks: Float64Array;
  private readonly meters: LoudnessMeter[];
  private seen = 0;

  /** `expected` samples a channel are spread over `bins`; more are added to the last. */
  constructor(
    private readonly channels: number,
    private readonly expected: number,
    private readonly bins = 1200,
    rate = 48_000,
  ) {
    this.meters = Array.from({ length: channels }, () => new LoudnessMeter(rate));
    this.low = Array.from({ length: channels }, () => new Float32Array(bins));
    this.high = Array.from({ length: channels }, () => new Float32Array(bins));
    this.squares = new Float64Array(channels);
    this.peaks = new Float64Array(channels);
  }

  take(samples: Int16Array): void {
    const { channels, bins } = this;
    const each = Math.floor(samples.length / channels);
    for (let i = 0; i < each; i += 1) {
      const bin = Math.min(bins - 1, Math.floor(((this.seen + i) * bins) / Math.max(1, this.expected)));
      for (let channel = 0; channel < channels; channel += 1) {
        const value = (samples[i * channels + channel] as number) / 32_768;
        const [low, high] = [this.low[channel] as Float32Array, this.high[channel] as Float32Array];
        if (value < (low[bin] as number)) low[bin] = value;
        if (value > (high[bin] as number)) high[bin] = value;
        const size = Math.abs(value);
        if (size > (this.peaks[channel] as number)) this.peaks[channel] = size;
        (this.squares[channel] as number) += value * value;
      }
    }
    this.meters.forEach((meter, channel) =>
      meter.take(samples.subarray(0, each * channels), channel, channels, 1 / 32_768),
    );
    this.seen += each;
  }

  /** Samples taken of each channel. */
  get samples(): number {
    return this.seen;
  }

  measures(where: (channel: number) => { track: number; channel: number }): ChannelMeasure[] {
    return Array.from({ length: this.channels }, (_, channel) => ({
      ...where(channel),
      peak: this.peaks[channel] as number,
      rms: Math.sqrt((this.squares[channel] as number) / Math.max(1, this.seen)),
      ...this.heard(channel),
    }));
  }

  private heard(channel: number): Pick<ChannelMeasure, 'loudness' | 'truePeak'> {
    const { integrated, truePeak } = (this.meters[channel] as LoudnessMeter).result();
    return { loudness: integrated, truePeak };
  }

  outlines(): Outline[] {
    const round = (values: Float32Array): number[] => [...values].map((value) => Math.round(value * 1000) / 1000);
    return this.low.map((low, channel) => ({ low: round(low), high: round(this.high[channel] as Float32Array) }));
  }
}

/** Below this peak a channel carries nothing: -70 dB of full scale, above the noise of a converter and below any room. Common practice, no source. */
export const silentBelow = 10 ** (-70 / 20);
