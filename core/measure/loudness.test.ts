import { describe, expect, it } from 'vitest';
import { kWeighting, LoudnessMeter } from './loudness.ts';

const rate = 48_000;
const sine = (frequency: number, seconds: number, level: number, at = rate): Float64Array =>
  Float64Array.from(
    { length: Math.round(seconds * at) },
    (_, i) => level * Math.sin((2 * Math.PI * frequency * i) / at),
  );
const measure = (samples: Float64Array, at = rate): ReturnType<LoudnessMeter['result']> => {
  const meter = new LoudnessMeter(at);
  for (let i = 0; i < samples.length; i += 4801) meter.take(samples.subarray(i, i + 4801));
  return meter.result();
};

describe('loudness', () => {
  it('has the filter coefficients of BS.1770-4, tables 1 and 2, at 48 kHz', () => {
    const [shelf, high] = kWeighting(rate);
    expect(shelf.b0).toBeCloseTo(1.53512485958697, 9);
    expect(shelf.b1).toBeCloseTo(-2.69169618940638, 9);
    expect(shelf.b2).toBeCloseTo(1.19839281085285, 9);
    expect(shelf.a1).toBeCloseTo(-1.69065929318241, 9);
    expect(shelf.a2).toBeCloseTo(0.73248077421585, 9);
    expect(high.a1).toBeCloseTo(-1.99004745483398, 9);
    expect(high.a2).toBeCloseTo(0.99007225036621, 9);
  });

  it('of a 997 Hz sine at full scale in one channel is −3.01 LUFS (BS.1770-4, annex 1)', () => {
    expect(measure(sine(997, 5, 1)).integrated).toBeCloseTo(-3.01, 1);
    expect(measure(sine(997, 5, 0.1)).integrated).toBeCloseTo(-23.01, 1);
    expect(measure(sine(997, 5, 0.1, 44_100), 44_100).integrated).toBeCloseTo(-23.01, 1);
  });

  it('gates what is quiet, and says nothing of silence', () => {
    const both = new Float64Array(rate * 10);
    both.set(sine(997, 5, 0.1));
    // EBU Tech 3341 in spirit: a quiet half does not pull the measure down.
    expect(measure(both).integrated).toBeCloseTo(-23.01, 0);
    expect(measure(new Float64Array(rate * 2))).toEqual({ integrated: null, truePeak: 0 });
  });

  it('finds peaks between samples: a quarter-rate sine at 45° has samples at −3 dB (EBU Tech 3341, test 15 in spirit)', () => {
    const samples = Float64Array.from({ length: rate }, (_, i) => Math.sin((Math.PI / 2) * i + Math.PI / 4));
    expect(20 * Math.log10(measure(samples).truePeak)).toBeGreaterThan(-0.4);
    expect(20 * Math.log10(measure(samples).truePeak)).toBeLessThan(0.3);
  });
});

describe('what is skipped', () => {
  /** The filter's phases as BS.1770-4, annex 2, table lists them: the first two, and the same backwards. */
  const listed = [
    [
      0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
      -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
    ],
    [
      -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
      -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
    ],
  ];
  const phases = [...listed, ...listed.map((phase) => [...phase].reverse())];
  /** Every value between samples, one after the other: the newest sample meets a phase's first factor. */
  const plainPeak = (samples: readonly number[]): number => {
    let peak = 0;
    for (let i = 0; i < samples.length; i += 1) {
      peak = Math.max(peak, Math.abs(samples[i] as number));
      for (const phase of phases)
        peak = Math.max(peak, Math.abs(phase.reduce((sum, factor, t) => sum + factor * (samples[i - t] ?? 0), 0)));
    }
    return peak;
  };

  it.each([1, 2, 3, 4, 5, 6])('changes no true peak of noise that swells and falls (%i)', (seed) => {
    let state = seed * 2_654_435_761;
    const noise = (): number => {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
      return state / 2 ** 31 - 1;
    };
    const one = Array.from({ length: 3_000 }, (_, i) => noise() * (0.1 + Math.abs(Math.sin((i * seed) / 400)) * 0.7));
    // Interleaved with a louder one, and handed on in pieces that end anywhere.
    const both = Float64Array.from(one.flatMap((value) => [value, noise()]));
    const meter = new LoudnessMeter(rate);
    for (let at = 0; at < both.length; at += 2 * (7 + seed)) meter.take(both.subarray(at, at + 2 * (7 + seed)), 0, 2);
    expect(meter.result().truePeak).toBeCloseTo(plainPeak(one), 12);
    expect(plainPeak(one)).toBeGreaterThan(Math.max(...one.map(Math.abs)));
  });

  it('is found beside two loud samples in silence, once what follows them has come', () => {
    const quiet = Array.from({ length: 20 }, () => 0);
    const samples = [...quiet, 0.5, 0.5, ...quiet];
    expect(measure(Float64Array.from(samples)).truePeak).toBeCloseTo(0.5 * (0.77978515625 + 0.465087890625), 12);
    expect(plainPeak(samples)).toBeCloseTo(0.5 * (0.77978515625 + 0.465087890625), 12);
  });
});

describe('loudness by the signals of EBU Tech 3341, table 1, in one channel and a quarter of their length', () => {
  /** A 1 kHz sine at levels in LUFS of one channel, one after the other: 3.01 dB under full scale is −3.01 LUFS there. */
  const steps = (of: readonly (readonly [number, number])[]): Float64Array => {
    const parts = of.map(([level, seconds]) => sine(1_000, seconds, 10 ** ((level + 3.01) / 20)));
    const all = new Float64Array(parts.reduce((sum, part) => sum + part.length, 0));
    parts.reduce((at, part) => (all.set(part, at), at + part.length), 0);
    return all;
  };
  it.each([
    ['1', [[-23, 5]]],
    ['2', [[-33, 5]]],
    [
      '3',
      [
        [-36, 2.5],
        [-23, 15],
        [-36, 2.5],
      ],
    ],
    [
      '4',
      [
        [-72, 2.5],
        [-36, 2.5],
        [-23, 15],
        [-36, 2.5],
        [-72, 2.5],
      ],
    ],
    [
      '5',
      [
        [-26, 5],
        [-20, 5.025],
        [-26, 5],
      ],
    ],
  ] as const)('signal %s is as loud as it says, within 0.1', (name, of) => {
    const { integrated } = measure(steps(of));
    expect(Math.abs((integrated ?? 0) - (name === '2' ? -33 : -23))).toBeLessThanOrEqual(0.1);
  });

  it('is not told of less than a block, and silent below −70', () => {
    expect(measure(sine(1_000, 0.39, 0.5)).integrated).toBeNull();
    expect(measure(sine(1_000, 0.4, 0.5)).integrated).not.toBeNull();
    expect(measure(steps([[-70.2, 2]])).integrated).toBeNull();
    expect(measure(steps([[-69.8, 2]])).integrated).toBeCloseTo(-69.8, 1);
  });
});

describe('true peak', () => {
  /** The interpolating filter as BS.1770-4, annex 2, prints it, phases 0 and 1; the others are these backwards. */
  const printed = [
    [
      0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
      -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
    ],
    [
      -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
      -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
    ],
  ] as const;
  const phases = [...printed, ...printed.map((phase) => [...phase].reverse())];
  const largest = (samples: readonly number[]): number => {
    let most = 0;
    samples.forEach((_, i) => {
      most = Math.max(most, Math.abs(samples[i] as number));
      for (const phase of phases)
        most = Math.max(most, Math.abs(phase.reduce((sum, c, t) => sum + c * (samples[i - t] ?? 0), 0)));
    });
    return most;
  };

  it.each([0, 1, 2, 3])('is what the standard filter finds where phase %i adds up most', (which) => {
    const signs = [...(phases[which] as readonly number[])].reverse().map((c) => 0.25 * Math.sign(c));
    for (const samples of [signs, signs.map((value) => -value), [0.1, ...signs, 0.1, -0.2]])
      expect(measure(Float64Array.from(samples)).truePeak).toBeCloseTo(largest(samples), 12);
  });

  it('is found in every second of interleaved samples, in units of their own', () => {
    const meter = new LoudnessMeter(rate);
    meter.take(Int16Array.of(30_000, 100, 30_000, -16_384, 30_000, 0), 1, 2, 1 / 32_768);
    expect(meter.result().truePeak).toBeCloseTo(largest([100 / 32_768, -0.5, 0]), 9);
  });
});
