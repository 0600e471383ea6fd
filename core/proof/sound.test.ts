import { describe, expect, it } from 'vitest';
import type { SoundPlan } from '../recipe/legPlan.ts';
import { rational } from '../time/rational.ts';
import { lagOf, soundComparisons, swellLag, type Excerpt } from './sound.ts';

/** Seeded noise in bursts, so that every offset sounds different. */
function bursts(length: number, seed: number): Float32Array {
  let state = seed;
  return Float32Array.from({ length }, (_, i) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return (state / 2 ** 31 - 1) * 0.3 * (Math.sin(i / 900) > 0 ? 1 : 0.05);
  });
}

const plan = (rest: Partial<SoundPlan> = {}): SoundPlan => ({
  sampleRate: 48_000,
  samples: 48_000,
  tracks: [{ from: 0, channels: 1, layout: null, bitDepth: 24 }],
  ...rest,
});
const original: Excerpt = { first: 0, channels: [bursts(24_000, 7), bursts(24_000, 8)] };
const [first] = original.channels as [Float32Array];
const shifted = (by: number, gain = 1): Excerpt => ({
  first: 0,
  channels: [first.map((_, i) => (first[i - by] ?? 0) * gain)],
});
const held = (found: Excerpt, sound = plan()): boolean[] =>
  soundComparisons(sound, [1, 1], [original], [[found]]).map(({ holds }) => holds);

describe('sound held against the original', () => {
  it('passes as it is, and up to a millisecond and a tenth of a decibel off', () => {
    expect(held(shifted(0))).toEqual([true, true]);
    expect(held(shifted(40))).toEqual([true, true]);
    expect(held(shifted(0, 10 ** (0.09 / 20)))).toEqual([true, true]);
  });

  it('does not pass late, early, louder, or as another channel', () => {
    expect(held(shifted(60))[0]).toBe(false);
    expect(held(shifted(-60))[0]).toBe(false);
    expect(held(shifted(0, 10 ** (0.12 / 20)))).toEqual([true, false]);
    expect(held({ first: 0, channels: [original.channels[1] as Float32Array] })[0]).toBe(false);
  });

  it('follows a matrix', () => {
    const mixed = first.map((value, i) => (value + (original.channels[1]?.[i] ?? 0)) / 2);
    const sound = plan({
      tracks: [
        {
          from: 0,
          channels: 1,
          layout: null,
          bitDepth: 24,
          sources: [0, 1],
          mix: [
            [
              { channel: 0, gain: 0.5 },
              { channel: 1, gain: 0.5 },
            ],
          ],
        },
      ],
    });
    expect(held({ first: 0, channels: [mixed] }, sound)).toEqual([true, true]);
    expect(held(shifted(0), sound)).toContain(false);
  });

  it('notices sound where silence was', () => {
    expect(
      soundComparisons(plan(), [1], [{ first: 0, channels: [new Float32Array(4800)] }], [[shifted(0)]]).some(
        ({ holds }) => !holds,
      ),
    ).toBe(true);
  });

  it('finds a lag to the sample', () => {
    const wanted = Float64Array.from(first.subarray(0, 8192));
    for (const by of [-900, -17, 0, 1, 333])
      expect(
        lagOf(
          wanted,
          Float64Array.from(wanted, (_, i) => wanted[i - by] ?? 0),
        ).lag,
      ).toBe(by);
  });

  it('tells by where it swells whether sound whose pitch was kept is in step', () => {
    // Swells at times that nothing repeats, of one tone before and another after: no wave is like its original's.
    const swelling = (tone: number, late = 0): Float32Array =>
      Float32Array.from(
        { length: 48_000 },
        (_, i) => Math.sin(i * tone) * 0.4 * Math.sin(((i - late) / 4000) ** 2 / 4) ** 8,
      );
    expect(swellLag(swelling(0.1), swelling(0.13))).toBe(0);
    expect(swellLag(swelling(0.1), swelling(0.13, 2880))).toBeCloseTo(60, 0);
    expect(
      swellLag(
        swelling(0.1),
        Float32Array.from({ length: 48_000 }, (_, i) => Math.sin(i / 9)),
      ),
    ).toBeNull();
    const kept = plan({ stretch: { by: rational(1), pitch: 'kept' } });
    const heldAs = (found: Float32Array): boolean[] =>
      soundComparisons(kept, [1], [{ first: 0, channels: [swelling(0.1)] }], [[{ first: 0, channels: [found] }]]).map(
        ({ holds }) => holds,
      );
    expect(heldAs(swelling(0.13, 480))).toEqual([true, true]);
    expect(heldAs(swelling(0.13, 2880))[0]).toBe(false);
    expect(heldAs(swelling(0.13, -2880))[0]).toBe(false);
  });
});

describe('what is said of sound', () => {
  const compared = (found: readonly Excerpt[], sound = plan(), originals: readonly Excerpt[] = [original]) =>
    soundComparisons(sound, [1, 1], originals, [found]);

  it('is how late it is and how loud, over how many stretches', () => {
    expect(compared([shifted(24)])).toEqual([
      { name: 'sound in sync', planned: 'offset under 1 ms', found: '0.50 ms over 1 stretches', holds: true },
      {
        name: 'sound level',
        planned: 'within 0.1 dB',
        found: expect.stringMatching(/^[+−]0\.0\d\d dB$/) as string,
        holds: true,
      },
    ]);
    expect(compared([shifted(0, 2)])[1]).toMatchObject({ found: '+6.021 dB', holds: false });
    expect(compared([shifted(0, 0.5)])[1]).toMatchObject({ found: '−6.021 dB', holds: false });
    // 48 samples are a millisecond, and not under it.
    expect([compared([shifted(47)])[0]?.holds, compared([shifted(48)])[0]?.holds]).toEqual([true, false]);
    expect([compared([shifted(-47)])[0]?.holds, compared([shifted(-48)])[0]?.holds]).toEqual([true, false]);
  });

  it('is which channel of which track is not what was planned', () => {
    const other: Excerpt = { first: 0, channels: [original.channels[1] as Float32Array] };
    expect(compared([other])[0]?.found).toBe('channel 1 of track 1 is not the sound planned');
    const quiet: Excerpt = { first: 0, channels: [new Float32Array(4_800)] };
    expect(compared([quiet], plan(), [quiet])).toEqual([
      { name: 'sound in sync', planned: 'offset under 1 ms', found: 'silent where it was compared', holds: true },
    ]);
    // Silent is what lies 70 dB under full scale; a tenth of a thousandth above it is heard.
    const hum = (power: number): Excerpt => ({ first: 0, channels: [new Float32Array(4_800).fill(Math.sqrt(power))] });
    expect(compared([hum(0.9e-6)], plan(), [quiet])[0]?.found).toBe('silent where it was compared');
    expect(compared([hum(1.1e-6)], plan(), [quiet])[0]?.found).toBe(
      'channel 1 of track 1 carries sound that the original has not',
    );
    expect(compared([hum(1.1e-7)], plan(), [hum(1.1e-7)])[0]?.found).toBe('0.00 ms over 1 stretches');
    expect(compared([hum(0.9e-7)], plan(), [hum(0.9e-7)])[0]?.found).toBe('silent where it was compared');
    expect(soundComparisons(plan({ tracks: [] }), [1], [original], [])).toEqual([]);
  });

  it('is of each track by itself: a second track begins behind the channels of the first', () => {
    const stereo: Excerpt = { first: 0, channels: [...original.channels] };
    const mono = { channels: 1, layout: null, bitDepth: 24 } as const;
    const second = plan({ tracks: [{ from: 1, ...mono }] });
    const three: Excerpt = { first: 0, channels: [bursts(24_000, 3), ...original.channels] };
    // The first original has one channel, the second two: the second track's first channel is the second of all.
    expect(soundComparisons(second, [1, 2], [three], [[{ first: 0, channels: [first] }]])[0]?.holds).toBe(true);
    expect(soundComparisons(second, [2, 1], [three], [[{ first: 0, channels: [first] }]])[0]?.holds).toBe(false);
    const both = plan({ tracks: [{ from: 0, channels: 2, layout: null, bitDepth: 24 }] });
    expect(soundComparisons(both, [2], [stereo], [[stereo]])[0]?.found).toBe('0.00 ms over 2 stretches');
    const swapped: Excerpt = { first: 0, channels: [...original.channels].reverse() };
    expect(soundComparisons(both, [2], [stereo], [[swapped]])[0]?.found).toBe(
      'channel 1 of track 1 is not the sound planned',
    );
  });

  it('of a later stretch is held against that stretch of the original', () => {
    const late: Excerpt = { first: 10_000, channels: original.channels.map((row) => row.subarray(10_000)) };
    const found: Excerpt = { first: 10_000, channels: [first.subarray(10_000)] };
    expect(compared([found], plan(), [late])[0]).toMatchObject({ found: '0.00 ms over 1 stretches', holds: true });
    expect(compared([{ ...found, first: 10_100 }], plan(), [late])[0]?.holds).toBe(false);
    expect(compared([shifted(0), found], plan(), [original, late])[0]?.found).toBe('0.00 ms over 2 stretches');
  });

  it('coded with loss may differ by half a decibel, and only what lies below 10 kHz counts', () => {
    const coded = plan({ coding: { codec: 'aac', bitsPerSecond: 128_000 } as never });
    expect(compared([shifted(0, 10 ** (0.45 / 20))], coded)[1]).toEqual({
      name: 'sound level',
      planned: 'within 0.5 dB below 10 kHz',
      found: expect.stringMatching(/^\+0\.45\d dB$/) as string,
      holds: true,
    });
    expect(compared([shifted(0, 10 ** (0.55 / 20))], coded)[1]?.holds).toBe(false);
    const tone = (hertz: number, gain = 1): Float32Array =>
      first.map((_, i) => gain * 0.3 * Math.sin((2 * Math.PI * hertz * i) / 48_000));
    const withTone = (hertz: number, gain: number): Excerpt => {
      const over = tone(hertz, gain);
      return { first: 0, channels: [tone(1_000).map((value, i) => value + (over[i] as number))] };
    };
    // What a coder left of 14 kHz is nothing; without loss it would be a fault.
    expect(compared([withTone(14_000, 0)], coded, [withTone(14_000, 0.5)])[1]?.holds).toBe(true);
    expect(compared([withTone(14_000, 0)], plan(), [withTone(14_000, 0.5)])[1]?.holds).toBe(false);
    // A tone below is held as it is.
    expect(compared([withTone(6_000, 0)], coded, [withTone(6_000, 0.5)])[1]?.holds).toBe(false);
  });

  it('that was stretched is read between samples', () => {
    const slow = (i: number): number => 0.4 * Math.sin(i / 31) * Math.sin(i / 4_000);
    const from: Excerpt = { first: 0, channels: [Float32Array.from({ length: 24_000 }, (_, i) => slow(i))] };
    const stretched = (by: number): Excerpt => ({
      first: 0,
      channels: [Float32Array.from({ length: Math.floor(24_000 * by) }, (_, i) => slow(i / by))],
    });
    const sound = plan({ stretch: { by: rational(25, 24), pitch: 'shifted' } as never });
    expect(soundComparisons(sound, [1], [from], [[stretched(25 / 24)]]).map(({ holds }) => holds)).toEqual([
      true,
      true,
    ]);
    expect(soundComparisons(sound, [1], [from], [[stretched(1)]])[0]?.holds).toBe(false);
  });

  it('whose pitch is kept is said to be in step by where it swells, or to be too even to tell', () => {
    const kept = plan({ stretch: { by: rational(1), pitch: 'kept' } });
    const swelling = Float32Array.from(
      { length: 48_000 },
      (_, i) => Math.sin(i * 0.1) * 0.4 * Math.sin((i / 4000) ** 2 / 4) ** 8,
    );
    const steady = Float32Array.from({ length: 48_000 }, (_, i) => 0.4 * Math.sin(i * 0.1));
    const said = (wanted: Float32Array, found: Float32Array) =>
      soundComparisons(kept, [1], [{ first: 0, channels: [wanted] }], [[{ first: 0, channels: [found] }]]);
    expect(said(swelling, swelling)).toEqual([
      {
        name: 'sound in step',
        planned: 'within 40 ms by where it swells',
        found: '0 ms over 1 stretches',
        holds: true,
      },
      { name: 'sound level', planned: 'within 1.3 dB', found: '+0.000 dB', holds: true },
    ]);
    expect(said(steady, steady)[0]?.found).toBe('too even to tell');
    const louder = (by: number): boolean | undefined =>
      said(
        swelling,
        swelling.map((value) => value * 10 ** (by / 20)),
      )[1]?.holds;
    expect([louder(1.25), louder(1.35), louder(-1.25), louder(-1.35)]).toEqual([true, false, true, false]);
    const late = (milliseconds: number): boolean | undefined =>
      said(
        swelling,
        swelling.map((_, i) => swelling[i - milliseconds * 48] ?? 0),
      )[0]?.holds;
    expect([late(40), late(44), late(-40), late(-44)]).toEqual([true, false, true, false]);
    // Shorter than 400 ms nothing is told by swells.
    expect(swellLag(swelling.subarray(0, 200 * 96), swelling.subarray(0, 200 * 96))).toBeNull();
    expect(swellLag(swelling.subarray(0, 201 * 96), swelling.subarray(0, 201 * 96))).toBe(0);
  });
});

describe('the lag of two rows', () => {
  it('is looked for up to 20 ms each way, and its likeness is that of the waves there', () => {
    const row = Float64Array.from(first.subarray(0, 8_192));
    const by = (lag: number, gain = 1) =>
      lagOf(
        row,
        row.map((_, i) => gain * (row[i - lag] ?? 0)),
      );
    expect([by(960).lag, by(-960).lag]).toEqual([960, -960]);
    expect(Math.abs(by(970).lag)).toBeLessThanOrEqual(960);
    expect(by(970).likeness).toBeLessThan(0.5);
    expect(by(0, 0.5)).toEqual({ lag: 0, likeness: expect.closeTo(1, 9) as number });
    expect(by(100).likeness).toBeGreaterThan(0.95);
    expect(lagOf(new Float64Array(100), new Float64Array(100))).toEqual({ lag: 0, likeness: 0 });
  });
});
