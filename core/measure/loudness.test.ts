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
