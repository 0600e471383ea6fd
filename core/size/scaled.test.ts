import { describe, expect, it } from 'vitest';
import { seeded } from '../colour/bake/seeded.ts';
import type { Estimate } from './estimate.ts';
import { scaleUp, spreadOver } from './scaled.ts';

const rough = (likely: number): Estimate => ({
  bytes: { least: likely * 0.25, likely, most: likely * 3 },
  known: 'roughly',
});
const sampled = (likely: number): Estimate => ({
  bytes: { least: likely * 0.92, likely, most: likely * 1.08 },
  known: 'by sampled pictures',
});

describe('what was sampled of some, scaled up to all', () => {
  it('is the sampled ones where all were', () => {
    const all = scaleUp([{ rough: rough(100), sampled: sampled(300) }], []);
    expect(all).toMatchObject({ bytes: { likely: 300 }, known: 'by sampled pictures' });
  });

  it('takes the others by the share of those that were seen, and one alone tells little', () => {
    const one = scaleUp([{ rough: rough(100), sampled: sampled(300) }], [rough(100), rough(200)]);
    expect(one.bytes.likely).toBe(1200);
    expect(one.bytes.most - one.bytes.least).toBeGreaterThan(0.6 * 1200);
    expect(scaleUp([], [rough(100)]).bytes.likely).toBe(100);
  });

  it('holds about nine times in ten for clips whose shares scatter', () => {
    const random = seeded(3);
    let held = 0;
    const times = 600;
    for (let n = 0; n < times; n += 1) {
      const sizes = Array.from({ length: 30 }, () => {
        const likely = 50 + random() * 500;
        return { likely, real: likely * (0.6 + random() * 0.8) };
      });
      const seen = spreadOver(30, 8);
      const total = scaleUp(
        seen.map((i) => ({
          rough: rough(sizes[i]?.likely ?? 0),
          sampled: {
            ...sampled(sizes[i]?.real ?? 0),
            bytes: { least: sizes[i]?.real ?? 0, likely: sizes[i]?.real ?? 0, most: sizes[i]?.real ?? 0 },
          },
        })),
        sizes.flatMap((one, i) => (seen.includes(i) ? [] : [rough(one.likely)])),
      );
      const real = sizes.reduce((sum, one) => sum + one.real, 0);
      if (real >= total.bytes.least && real <= total.bytes.most) held += 1;
    }
    expect(held / times).toBeGreaterThan(0.85);
  });

  it('spreads over an order, each once', () => {
    expect(spreadOver(100, 4)).toEqual([12, 37, 62, 87]);
    expect(spreadOver(3, 8)).toEqual([0, 1, 2]);
    expect(spreadOver(0, 8)).toEqual([]);
  });
});
