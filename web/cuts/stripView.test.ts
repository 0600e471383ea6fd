import { describe, expect, it } from 'vitest';
import { showing, stripTicks, within, zoomed } from './stripView.ts';

const cut = { from: 1_000, to: 11_000 };

describe('the strip of a cut', () => {
  it('shows no more than the cut, and no less than a second of it', () => {
    expect(within({ from: 0, to: 50_000 }, cut)).toEqual(cut);
    expect(within({ from: 10_900, to: 11_400 }, cut)).toEqual({ from: 10_500, to: 11_000 });
    expect(within({ from: 5_000, to: 5_001 }, cut)).toEqual({ from: 5_000, to: 5_024 });
  });

  it('is zoomed around a frame that stays', () => {
    const near = zoomed(cut, 4, 3_000, cut);
    expect(near).toEqual({ from: 2_500, to: 5_000 });
    expect((3_000 - near.from) / (near.to - near.from)).toBe((3_000 - 1_000) / 10_000);
    expect(zoomed(near, 1 / 100, 3_000, cut)).toEqual(cut);
  });

  it('moves only when what is to be seen is not', () => {
    const view = { from: 2_000, to: 4_000 };
    expect(showing(view, { from: 2_500, to: 2_600 }, cut)).toBe(view);
    const later = showing(view, { from: 6_000, to: 6_100 }, cut);
    expect(later.from).toBeLessThan(6_000);
    expect(later.to).toBeGreaterThan(6_100);
    expect(showing(view, { from: 1_000, to: 1_100 }, cut).from).toBe(1_000);
  });

  it('has labels at whole seconds from its beginning', () => {
    expect(stripTicks({ from: 1_000, to: 1_240 }, 24, 1_000, 6)).toEqual([1_000, 1_048, 1_096, 1_144, 1_192, 1_240]);
    expect(stripTicks(cut, 24, 1_000, 8)).toHaveLength(7);
  });
});
