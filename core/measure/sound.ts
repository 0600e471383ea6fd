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
    const { channels } = this;
    const each = Math.floor(samples.length / channels);
    const whole = samples.subarray(0, each * channels);
    for (let channel = 0; channel < channels; channel += 1) {
      this.outline(whole, channel);
      (this.meters[channel] as LoudnessMeter).take(whole, channel, channels, 1 / 32_768);
    }
    this.seen += each;
  }

  /** The first sample of a bin, counted from the first of all; of the bin behind the last there is none. */
  private begins(bin: number): number {
    return bin >= this.bins ? Infinity : Math.ceil((bin * Math.max(1, this.expected)) / this.bins);
  }

  private outline(samples: Int16Array, channel: number): void {
    const { channels, bins, seen } = this;
    const [low, high] = [this.low[channel] as Float32Array, this.high[channel] as Float32Array];
    let bin = Math.min(bins - 1, Math.floor((seen * bins) / Math.max(1, this.expected)));
    let [least, most] = [low[bin] as number, high[bin] as number];
    let end = this.begins(bin + 1);
    let [peak, squares] = [this.peaks[channel] as number, this.squares[channel] as number];
    for (let i = channel, at = seen; i < samples.length; i += channels, at += 1) {
      while (at >= end) {
        low[bin] = least;
        high[bin] = most;
        bin += 1;
        end = this.begins(bin + 1);
        [least, most] = [low[bin] as number, high[bin] as number];
      }
      const value = (samples[i] as number) / 32_768;
      if (value < least) least = value;
      if (value > most) most = value;
      const size = value < 0 ? -value : value;
      if (size > peak) peak = size;
      squares += value * value;
    }
    low[bin] = least;
    high[bin] = most;
    this.peaks[channel] = peak;
    this.squares[channel] = squares;
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
