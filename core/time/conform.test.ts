import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { conformTimecode, planConform, stretchRates, type Conform } from './conform.ts';
import { filmFrames, mapByTimes, mapCounts, shownBy, showing, writeMap, type FrameMap } from './frameMap.ts';
import { divide, multiply, rational, scaleToInteger, toNumber, type Rational } from './rational.ts';
import { standardRates } from './rate.ts';

const film = rational(24000, 1001);
const at = (
  rate: Rational,
  frames: number,
): { rate: Rational; rateConstant: boolean; frames: number; duration: Rational } => ({
  rate,
  rateConstant: true,
  frames,
  duration: divide(rational(frames), rate),
});
const relabel = (rate: Rational): Conform => ({ kind: 'relabel', rate, timecode: 'as labelled', sound: 'stretched' });
const resample = (rate: Rational): Conform => ({ kind: 'resample', rate, how: 'hold', timecode: 'as labelled' });

describe('conforms', () => {
  it('59.94 relabelled to 23.976 is two and a half times as long, every frame once', () => {
    const plan = unwrap(planConform(at(rational(60000, 1001), 120), relabel(film)));
    expect(plan).toMatchObject({ frames: 120, map: { kind: 'every' }, stretch: rational(5, 2) });
    expect(plan.driftSeconds).toBeCloseTo((120 * 1001) / 24000 - (120 * 1001) / 60000, 9);
  });

  it('one hour of 24 played at 25 ends 144 s early; resampled it keeps its hour', () => {
    const hour = at(rational(24), 86_400);
    expect(unwrap(planConform(hour, relabel(rational(25)))).driftSeconds).toBeCloseTo(-144, 9);
    expect(unwrap(planConform(hour, resample(rational(25))))).toMatchObject({ frames: 90_000, driftSeconds: 0 });
  });

  it('one hour of 24 resampled to 23.976 drops 86 frames', () => {
    const plan = unwrap(planConform(at(rational(24), 86_400), resample(film)));
    // 86,400 × 1000/1001 = 86,313.69
    expect(plan.frames).toBe(86_314);
    expect(mapCounts(plan.map, 86_400, plan.frames)).toEqual({ dropped: 86, repeated: 0 });
  });

  it('says no to pulldown of other rates, to relabelling what varies, and to no rate', () => {
    const phases = [-1, 0, 4, 5, 1.5].map(
      (phase) =>
        planConform(at(rational(30_000, 1001), 50), { kind: 'pulldown-out', phase, timecode: 'as labelled' }).ok,
    );
    expect(phases).toEqual([false, true, true, false, false]);
    expect(planConform(at(rational(25), 50), { kind: 'pulldown-out', phase: 0, timecode: 'as labelled' }).ok).toBe(
      false,
    );
    expect(planConform(at(rational(25), 50), { kind: 'pulldown-in', timecode: 'as labelled' }).ok).toBe(false);
    expect(planConform({ ...at(rational(25), 50), rateConstant: false }, relabel(film)).ok).toBe(false);
    for (const rate of [{ num: 0, den: 1 }, { num: -25, den: 1 }, rational(1000)])
      expect(planConform(at(rational(25), 50), relabel(rate)).ok).toBe(false);
  });

  it('takes clips of one frame, 119.88 and 1000 frames a second', () => {
    for (const rate of [rational(25), rational(120000, 1001), rational(1000)]) {
      for (const conform of [relabel(film), resample(film), { ...resample(film), how: 'blend' as const }]) {
        const plan = unwrap(planConform(at(rate, 1), conform));
        expect(plan.frames).toBe(1);
        expect(shownBy(plan.map, 0, 1).frame).toBe(0);
      }
    }
  });
});

describe('frame maps', () => {
  const rates = fc.constantFrom(...standardRates.map((row) => row.rate), rational(1000), rational(15));

  it('never go back, begin with the first frame, and stay within a frame of true time', () => {
    fc.assert(
      fc.property(rates, rates, fc.integer({ min: 1, max: 1000 }), (from, to, frames) => {
        const plan = unwrap(planConform(at(from, frames), resample(to.num === 1000 ? film : to)));
        let before = 0;
        const wrong: number[] = [];
        for (let n = 0; n < plan.frames; n += 1) {
          const { frame } = shownBy(plan.map, n, frames);
          const off = Math.abs(n / toNumber(plan.rate) - frame / toNumber(from));
          if (
            frame < before ||
            frame >= frames ||
            (n === 0 && frame !== 0) ||
            (frame < frames - 1 && off > Math.max(1 / toNumber(plan.rate), 1 / toNumber(from)) + 1e-9)
          )
            wrong.push(n);
          before = frame;
        }
        expect(wrong).toEqual([]);
        expect(Math.abs(plan.driftSeconds)).toBeLessThanOrEqual(
          0.5 / toNumber(plan.rate) + (plan.frames === 1 ? 1 : 0) + 1e-9,
        );
      }),
      { numRuns: 150 },
    );
  });

  it('show every original frame when the rate goes up, and are onto', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 2000 }), (frames) => {
        const plan = unwrap(planConform(at(film, frames), resample(rational(60000, 1001))));
        expect(mapCounts(plan.map, frames, plan.frames).dropped).toBe(0);
      }),
      { numRuns: 50 },
    );
  });

  it('of fields repeat nothing: each of a frame is shown once', () => {
    expect(mapCounts({ kind: 'fields' }, 100, 200)).toEqual({ dropped: 0, repeated: 0 });
    // Five of six are kept; 25 are made of 24.
    expect(mapCounts({ kind: 'hold', ratio: rational(5, 6) }, 300, 250)).toEqual({ dropped: 50, repeated: 0 });
    expect(mapCounts({ kind: 'hold', ratio: rational(25, 24) }, 240, 250)).toEqual({ dropped: 0, repeated: 10 });
  });

  it('lead back from the original as they lead there', () => {
    const maps: [FrameMap, number, number][] = [
      [{ kind: 'hold', ratio: rational(5, 6) }, 300, 250],
      [{ kind: 'hold', ratio: rational(25, 24) }, 240, 250],
      [{ kind: 'fields' }, 100, 200],
      [{ kind: 'pulldown-in' }, 100, 125],
      [{ kind: 'pulldown-out', phase: 3 }, 300, filmFrames(300, 3)],
      [{ kind: 'blend', ratio: rational(5, 4) }, 100, 125],
      [
        mapByTimes(
          Array.from({ length: 80 }, (_, n) => n / 30 + (n % 7) * 0.002),
          rational(30000, 1001),
        ),
        80,
        80,
      ],
    ];
    for (const [map, frames, outputs] of maps) {
      for (let m = 0; m < frames; m += 1) {
        const all = Array.from({ length: outputs }, (_, n) => n).filter((n) => {
          const { frame, other } = shownBy(map, n, frames);
          return frame === m || other?.frame === m;
        });
        const found = showing(map, m, frames, outputs);
        expect(found && { first: found.first, last: found.last }, `${map.kind} ${m}`).toEqual(
          all.length > 0 ? { first: all[0], last: all.at(-1) } : null,
        );
      }
    }
  });

  it("2:3 pulldown taken out gives four whole frames for five, whatever the first one's place", () => {
    // AA BB BC CD DD: the third and fourth frames hold the fields of C between them.
    expect([0, 1, 2, 3].map((n) => shownBy({ kind: 'pulldown-out', phase: 0 }, n, 5))).toEqual([
      { frame: 0 },
      { frame: 1 },
      { frame: 2, other: { frame: 3, share: 0.5 } },
      { frame: 4 },
    ]);
    expect([0, 1, 2, 3, 4].map((phase) => filmFrames(5, phase))).toEqual([4, 4, 4, 3, 4]);
    expect(filmFrames(5000, 2)).toBe(4000);
  });

  it('are written small', () => {
    expect(writeMap({ kind: 'hold', ratio: rational(4, 5) })).toBe('hold 4/5');
    expect(writeMap({ kind: 'times', places: [0, 1, 2, 3, 5, 6, 7] })).toBe('places +1*3 +2 +1*2');
  });
});

describe('timecode over a conform', () => {
  const start = (text: string): { start: string; dropFrame: boolean } => ({
    start: text,
    dropFrame: text.includes(';'),
  });
  it('stays as labelled, or is recounted from midnight', () => {
    // 10 h of 24 are 864,000 frames; at 25 they are 9:36:00:00.
    expect(conformTimecode(start('10:00:00:00'), rational(24), rational(25), 'as labelled', true)?.start).toBe(
      '10:00:00:00',
    );
    expect(conformTimecode(start('10:00:00:00'), rational(24), rational(25), 'recounted', true)?.start).toBe(
      '09:36:00:00',
    );
    // Resampled, the time of day stays.
    expect(conformTimecode(start('10:00:00:12'), rational(24), rational(25), 'recounted', false)?.start).toBe(
      '10:00:00:13',
    );
  });

  it('loses drop-frame where the rate has none, and numbers that are too high in proportion', () => {
    expect(conformTimecode(start('16:45:10;12'), rational(60000, 1001), film, 'as labelled', true)).toEqual({
      start: '16:45:10:12',
      dropFrame: false,
      wraps: false,
    });
    expect(conformTimecode(start('16:45:10;50'), rational(60000, 1001), film, 'as labelled', true)?.start).toBe(
      '16:45:10:20',
    );
  });

  it('says when it passes midnight', () => {
    expect(conformTimecode(start('20:00:00:00'), rational(60000, 1001), film, 'recounted', true)).toMatchObject({
      wraps: true,
      start: '02:00:00:00',
    });
  });

  it('a label that drop-frame leaves out becomes the next that exists', () => {
    expect(conformTimecode(start('10:01:00:00'), film, rational(30000, 1001), 'as labelled', false)?.start).toBe(
      '10:01:00:00',
    );
    expect(
      conformTimecode(start('10:01:00;04'), rational(60000, 1001), rational(30000, 1001), 'as labelled', false)?.start,
    ).toBe('10:01:00;02');
  });
});

it('stretches are whole rates, and exact over an hour', () => {
  for (const [from, to] of [
    [rational(60000, 1001), film],
    [rational(24), rational(25)],
    [rational(30), film],
    [rational(120000, 1001), rational(25)],
  ] as const) {
    const stretch = divide(from, to);
    const { taken, brought } = stretchRates(stretch);
    expect(Number.isInteger(taken) && Number.isInteger(brought)).toBe(true);
    expect(rational(brought, taken)).toEqual(stretch);
    const hour = scaleToInteger(48_000 * 3600, stretch);
    expect(Math.abs(hour - Math.round((48_000 * 3600 * brought) / taken))).toBeLessThanOrEqual(1);
    expect(toNumber(multiply(stretch, divide(to, from)))).toBe(1);
  }
});
