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
/**
 * No interpolated value can exceed the largest of its samples by more than this: the largest sum of the filter's
 * magnitudes.
 */
const mostOvershoot = Math.max(...phases.map((phase) => phase.reduce((sum, x) => sum + Math.abs(x), 0)));

/** Takes a channel's samples, in pieces of any length, and says its loudness. */
export class LoudnessMeter {
  private readonly filters: [Biquad, Biquad];
  private readonly state = new Float64Array(8);
  private readonly history = new Float64Array(taps);
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
  take(samples: ArrayLike<number>, from = 0, stride = 1, unit = 1): void {
    const [s, h] = this.filters;
    const { state, history, hop } = this;
    let [x1, x2, y1, y2, u1, u2, v1, v2] = state as unknown as [
      number,
      number,
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    for (let i = from; i < samples.length; i += stride) {
      const x = (samples[i] as number) * unit;
      const y = s.b0 * x + s.b1 * x1 + s.b2 * x2 - s.a1 * y1 - s.a2 * y2;
      const v = h.b0 * y + h.b1 * u1 + h.b2 * u2 - h.a1 * v1 - h.a2 * v2;
      [x2, x1, y2, y1] = [x1, x, y1, y];
      [u2, u1, v2, v1] = [u1, y, v1, v];
      this.square += v * v;
      this.inHop += 1;
      if (this.inHop === hop) {
        this.hops.push(this.square / hop);
        this.inHop = 0;
        this.square = 0;
      }
      history.copyWithin(1, 0, taps - 1);
      history[0] = x;
      // Most samples are far below the peak so far, and nothing between them can pass it.
      let largest = 0;
      for (let t = 0; t < taps; t += 1) largest = Math.max(largest, Math.abs(history[t] as number));
      if (largest * mostOvershoot <= this.peak) continue;
      if (Math.abs(x) > this.peak) this.peak = Math.abs(x);
      for (const phase of phases) {
        let sum = 0;
        for (let t = 0; t < taps; t += 1) sum += (history[t] as number) * (phase[t] as number);
        if (Math.abs(sum) > this.peak) this.peak = Math.abs(sum);
      }
    }
    state.set([x1, x2, y1, y2, u1, u2, v1, v2]);
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
