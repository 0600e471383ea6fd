/**
 * Loudness and true peak of one channel: Recommendation ITU-R BS.1770-4 (K weighting, gated blocks of 400 ms; annex 2
 * for the true peak), as EBU R 128 uses it. One channel counts with weight 1, as left, right or centre do.
 */
export interface Loudness {
  /** Integrated loudness in LUFS; null where no block passes the gate at −70. */
  integrated: number | null;
  /** Largest true peak as a share of full scale; in dBTP by 20·log10. */
  truePeak: number;
}

interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/**
 * The two filters of K weighting at any rate, from the analogue prototypes behind the standard's 48 kHz coefficients
 * (BS.1770-4, tables 1 and 2; prototype values as EBU's own and other general libraries derive them; at 48 kHz they
 * give the tables to 1e-9).
 */
export function kWeighting(rate: number): [Biquad, Biquad] {
  const shelf = ((): Biquad => {
    const [f0, gain, q] = [1681.974450955533, 3.999843853973347, 0.7071752369554196];
    const k = Math.tan((Math.PI * f0) / rate);
    const vh = 10 ** (gain / 20);
    const vb = vh ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b0: (vh + (vb * k) / q + k * k) / a0,
      b1: (2 * (k * k - vh)) / a0,
      b2: (vh - (vb * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const high = ((): Biquad => {
    const [f0, q] = [38.13547087602444, 0.5003270373238773];
    const k = Math.tan((Math.PI * f0) / rate);
    const a0 = 1 + k / q + k * k;
    return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
  })();
  return [shelf, high];
}

/**
 * Four phases of the interpolating filter for the true peak, BS.1770-4 annex 2; the last two are the first two
 * backwards.
 */
const phases: readonly (readonly number[])[] = (() => {
  const first = [
    0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
    -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
  ];
  const second = [
    -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
    -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
  ];
  return [first, second, [...second].reverse(), [...first].reverse()];
})();
const taps = 12;
/** The first two phases, the oldest sample's factor first; the last two are these backwards. */
const [early, middle] = [0, 1].map((n) => Float64Array.from([...(phases[n] as number[])].reverse())) as [
  Float64Array,
  Float64Array,
];
/**
 * No interpolated value can exceed the largest of its samples by more than this: the largest sum of the filter's
 * magnitudes.
 */
const mostOvershoot = Math.max(...phases.map((phase) => phase.reduce((sum, x) => sum + Math.abs(x), 0)));

/** The largest value between the samples of a window, of which the oldest stands at `from`, or `peak` where that is larger. */
function between(window: Float64Array, from: number, peak: number): number {
  // Without arrays to take apart, which here takes twice as long.
  let one = 0;
  let two = 0;
  let three = 0;
  let four = 0;
  for (let t = 0, back = from + taps - 1; t < taps; t += 1, back -= 1) {
    const x = window[from + t] as number;
    const y = window[back] as number;
    const a = early[t] as number;
    const b = middle[t] as number;
    one += a * x;
    two += b * x;
    three += b * y;
    four += a * y;
  }
  return Math.max(peak, Math.abs(one), Math.abs(two), Math.abs(three), Math.abs(four));
}

type Samples = Int16Array | Float32Array | Float64Array;

/** Takes a channel's samples, in pieces of any length, and says its loudness. */
export class LoudnessMeter {
  private readonly filters: [Biquad, Biquad];
  private readonly state = new Float64Array(6);
  /** The last samples, twice behind each other, so that a window of them lies in one piece wherever it begins. */
  private readonly window = new Float64Array(2 * taps);
  private oldest = 0;
  /** So many more samples have one in their window beside which more than the peak so far may lie. */
  private watched = 0;
  private readonly hop: number;
  private inHop = 0;
  private square = 0;
  private readonly hops: number[] = [];
  private peak = 0;

  constructor(rate: number) {
    this.filters = kWeighting(rate);
    this.hop = Math.round(rate / 10);
  }

  /** `samples` of −1 to 1, every `stride`th from `from` on, times `unit`. */
  take(samples: Samples, from = 0, stride = 1, unit = 1): void {
    this.weigh(samples, from, stride, unit);
    this.seek(samples, from, stride, unit);
  }

  /** The power of each tenth of a second behind both filters. */
  private weigh(samples: Samples, from: number, stride: number, unit: number): void {
    const [shelf, high] = this.filters;
    const { b0, b1, b2, a1, a2 } = shelf;
    const { a1: c1, a2: c2 } = high;
    const { state, hop } = this;
    let [x1, x2, y1, y2, v1, v2] = state as unknown as [number, number, number, number, number, number];
    let { inHop, square } = this;
    for (let i = from; i < samples.length; i += stride) {
      const x = (samples[i] as number) * unit;
      const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
      // The second filter's own factors are 1, −2 and 1.
      const v = y - 2 * y1 + y2 - c1 * v1 - c2 * v2;
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      v2 = v1;
      v1 = v;
      square += v * v;
      inHop += 1;
      if (inHop === hop) {
        this.hops.push(square / hop);
        inHop = 0;
        square = 0;
      }
    }
    state.set([x1, x2, y1, y2, v1, v2]);
    this.inHop = inHop;
    this.square = square;
  }

  /** The true peak. Most samples are far below the peak so far, and nothing between them can pass it. */
  private seek(samples: Samples, from: number, stride: number, unit: number): void {
    const { window } = this;
    let { oldest, watched, peak } = this;
    let low = peak / mostOvershoot;
    for (let i = from; i < samples.length; i += stride) {
      const x = (samples[i] as number) * unit;
      window[oldest] = x;
      window[oldest + taps] = x;
      oldest = oldest === taps - 1 ? 0 : oldest + 1;
      const size = x < 0 ? -x : x;
      if (size > low) watched = taps;
      if (watched === 0) continue;
      watched -= 1;
      const largest = between(window, oldest, size > peak ? size : peak);
      if (largest > peak) {
        peak = largest;
        low = peak / mostOvershoot;
      }
    }
    this.oldest = oldest;
    this.watched = watched;
    this.peak = peak;
  }

  result(): Loudness {
    const blocks: number[] = [];
    for (let i = 0; i + 3 < this.hops.length; i += 1)
      blocks.push(
        ((this.hops[i] as number) +
          (this.hops[i + 1] as number) +
          (this.hops[i + 2] as number) +
          (this.hops[i + 3] as number)) /
          4,
      );
    const loudness = (mean: number): number => -0.691 + 10 * Math.log10(mean);
    const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length;
    const above = blocks.filter((power) => power > 0 && loudness(power) > -70);
    if (above.length === 0) return { integrated: null, truePeak: this.peak };
    const gate = loudness(mean(above)) - 10;
    const kept = above.filter((power) => loudness(power) > gate);
    return { integrated: loudness(mean(kept)), truePeak: this.peak };
  }
}
