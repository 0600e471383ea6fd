import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AudioTrack } from '../clip/description.ts';
import { unwrap } from '../result.ts';
import { minus3dB, mostGain, saySound, soundMatrix } from './map.ts';

const track = (channels: number, layout: string | null = null): AudioTrack => ({
  codec: 'PCM',
  codecId: 'pcm_s24le',
  channels,
  layout,
  sampleRate: 48_000,
  bitDepth: 24,
  duration: null,
});
const monos = (count: number): AudioTrack[] => Array.from({ length: count }, () => track(1));

describe('channel maps', () => {
  it('keep what nobody maps, and pick channels in the order asked for', () => {
    expect(unwrap(soundMatrix(monos(4), { kind: 'keep' }))).toBeNull();
    expect(unwrap(soundMatrix(monos(6), { kind: 'pick', channels: [1, 4] }))).toEqual([
      { channels: [[{ channel: 1, gain: 1 }]] },
      { channels: [[{ channel: 4, gain: 1 }]] },
    ]);
    expect(saySound(monos(6), { kind: 'pick', channels: [1, 4] })).toBe('Channels 2 and 5 kept as 2 and 5, 2 of 6');
  });

  it('fold 5.1 by ITU-R BS.775-4, table 2, brought down so that it never clips', () => {
    const [pair] = unwrap(soundMatrix([track(6, '5.1')], { kind: 'fold', to: 'stereo' })) ?? [];
    const [left, right] = pair?.channels ?? [];
    // The right is the left's mirror: channels are L R C LFE Ls Rs.
    const mirrored = left?.map(({ channel, gain }) => ({ channel: [1, 0, 2, 3, 5, 4][channel], gain }));
    expect(right).toEqual(mirrored);
    const gains = Object.fromEntries((left ?? []).map(({ channel, gain }) => [channel, gain]));
    // Left 1, centre and left surround 0.7071 of it; the LFE is left out.
    expect((gains[2] ?? 0) / (gains[0] ?? 1)).toBeCloseTo(minus3dB, 12);
    expect((gains[4] ?? 0) / (gains[0] ?? 1)).toBeCloseTo(minus3dB, 12);
    expect(gains[3]).toBeUndefined();
  });

  it('never clip by folding, whatever the tracks, and keep a single channel as loud as it is', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 8 }), { minLength: 1, maxLength: 6 }),
        fc.constantFrom('stereo' as const, 'mono' as const),
        (counts, to) => {
          const matrix =
            unwrap(
              soundMatrix(
                counts.map((count) => track(count)),
                { kind: 'fold', to },
              ),
            ) ?? [];
          expect(mostGain(matrix)).toBeLessThanOrEqual(1 + 1e-12);
          expect(matrix.flatMap((one) => one.channels)).toHaveLength(to === 'stereo' ? 2 : 1);
        },
      ),
    );
    expect(unwrap(soundMatrix(monos(1), { kind: 'fold', to: 'mono' }))).toEqual([
      { channels: [[{ channel: 0, gain: 1 }]] },
    ]);
  });

  it('say no to channels that are not there, to gains that are none, to tracks of nothing', () => {
    const no = (correction: Parameters<typeof soundMatrix>[1]): boolean => soundMatrix(monos(2), correction).ok;
    expect(no({ kind: 'pick', channels: [2] })).toBe(false);
    expect(no({ kind: 'pick', channels: [-1] })).toBe(false);
    expect(no({ kind: 'matrix', tracks: [{ channels: [[{ channel: 0, gain: Number.NaN }]] }] })).toBe(false);
    expect(no({ kind: 'matrix', tracks: [] })).toBe(false);
    expect(no({ kind: 'matrix', tracks: [{ channels: [] }] })).toBe(false);
    // Missing audio has nothing to map.
    expect(unwrap(soundMatrix([], { kind: 'pick', channels: [3] }))).toBeNull();
  });
});
