import type { Scan } from '../clip/description.ts';
import { toNumber, type Rational } from '../time/rational.ts';
import type { Bars } from './bars.ts';
import type { ScanMeasure } from './fields.ts';

/** What a closer look at a clip's pictures, sound and packets showed: sampled frames, all sound, every packet. */
export interface Measured {
  version: 1;
  picture: PictureMeasure | null;
  /** One for each channel, track by track in the file's order. */
  sound: ChannelMeasure[];
  flow: FlowMeasure | null;
  /** How far pictures of a varying rate stand off even steps; absent where the rate is constant. */
  jitter?: JitterMeasure;
  /** What decoders complained of; the sampled pictures and all sound were decoded. */
  errors: string[];
  /** Places inside the file where timecode does not go on: the label that stands there, and the one that should. */
  timecodeBreaks: { frame: number; found: string; expected: string }[];
}

export interface PictureMeasure {
  /** Pictures that were looked at. */
  pictures: number;
  /** Luma that 0.5 % lie below, and 99.5 %, as 10-bit code values, over all of them. */
  low: number;
  high: number;
  /** Shares of luma samples outside legal range, 64 to 940 of 10 bits (Recommendation ITU-R BT.709-6, part 2, item 4.6). */
  belowLegal: number;
  aboveLegal: number;
  /** Mean distance of colour from grey, in 10-bit code values. */
  saturation: number;
  bars: Bars | null;
  /** The scans that pictures are flagged with, each once. */
  scans: Scan[];
  /** What consecutive pictures show of their scan; absent where that was not looked at. */
  fields?: ScanMeasure;
}

export interface ChannelMeasure {
  track: number;
  channel: number;
  /** Largest sample, and root mean square, of full scale: 0 to 1. */
  peak: number;
  rms: number;
  /** EBU R 128: integrated loudness in LUFS, null for silence, and true peak of full scale. Absent in measurements from before. */
  loudness?: number | null;
  truePeak?: number;
}

/** Pictures' times against even steps of the average rate, in milliseconds: root mean square, and the farthest. */
export interface JitterMeasure {
  typicalMs: number;
  worstMs: number;
}

/** How data is spread along the picture. */
export interface FlowMeasure {
  /** The busiest second. */
  peakBitsPerSecond: number;
  /** Pictures from one whole picture (I) to the next: most often, and at most. 1 is intra only. */
  groupTypical: number;
  groupLongest: number;
}

/** One packet of the picture, in the file's order. */
export interface Packet {
  /** When it is shown. */
  seconds: number;
  bytes: number;
  whole: boolean;
}

/** The data rate along a clip, and its groups of pictures; null for no packets. */
export function measureFlow(packets: readonly Packet[], rate: Rational): FlowMeasure | null {
  if (packets.length === 0) return null;
  const groups = groupLengths(packets);
  const seconds = ratePerSecond(packets, rate);
  return {
    peakBitsPerSecond: Math.max(...seconds),
    groupTypical: mostOften(groups),
    groupLongest: groups.reduce((a, b) => Math.max(a, b), 1),
  };
}

/** Pictures in each group, by the order in which they are stored. */
function groupLengths(packets: readonly Packet[]): number[] {
  const lengths: number[] = [];
  for (const packet of packets) {
    if (packet.whole || lengths.length === 0) lengths.push(1);
    else (lengths[lengths.length - 1] as number) += 1;
  }
  return lengths;
}

function mostOften(values: readonly number[]): number {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 1;
}

/** Bits in each second of the clip; the last, shorter one is brought to a whole second. */
export function ratePerSecond(packets: readonly Packet[], rate: Rational): number[] {
  const first = packets.reduce((a, packet) => Math.min(a, packet.seconds), Infinity);
  const last = packets.reduce((a, packet) => Math.max(a, packet.seconds), -Infinity) + rate.den / rate.num;
  const bins = new Array<number>(Math.max(1, Math.ceil(last - first - 1e-6))).fill(0);
  for (const packet of packets)
    bins[Math.min(bins.length - 1, Math.floor(packet.seconds - first))] =
      (bins[Math.min(bins.length - 1, Math.floor(packet.seconds - first))] as number) + packet.bytes * 8;
  const rest = last - first - (bins.length - 1);
  if (rest > 0.25) bins[bins.length - 1] = (bins.at(-1) as number) / rest;
  else if (bins.length > 1) bins.pop();
  return bins;
}

/** How far times, ascending, stand off the even steps of a rate that fit them best: the mean distance is taken out. */
export function measureJitter(seconds: readonly number[], rate: Rational): JitterMeasure {
  const off = seconds.map((second, n) => second - n / toNumber(rate));
  const mean = off.reduce((sum, one) => sum + one, 0) / Math.max(1, off.length);
  const square = off.reduce((sum, one) => sum + (one - mean) ** 2, 0) / Math.max(1, off.length);
  return {
    typicalMs: Math.sqrt(square) * 1000,
    worstMs: off.reduce((worst, one) => Math.max(worst, Math.abs(one - mean)), 0) * 1000,
  };
}
