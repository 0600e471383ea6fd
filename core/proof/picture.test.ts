import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { pictureComparisons } from './picture.ts';
import type { VideoPlan } from '../recipe/legPlan.ts';
import { originalsWanted, sampledFrames, type Small } from './smalls.ts';

const [width, height] = [320, 180];
const output = unwrap(planLeg(sampleClip({}, {}), finishAndCut)).outputs[0];
if (!output) throw new Error('no output');

/** Seeded noise about grey. */
function grain(seed: number, strength: number): Small {
  let state = seed;
  return {
    width,
    height,
    luma: Uint16Array.from({ length: width * height }, () => {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
      return 32_000 + (state / 2 ** 32 - 0.5) * strength;
    }),
  };
}
const picture: Small = {
  width,
  height,
  luma: Uint16Array.from(
    { length: width * height },
    (_, i) => 32_000 + 9_000 * Math.sin((i % width) / 20) * Math.cos(i / width / 15),
  ),
};

const held = (made: Small, original: Small) =>
  pictureComparisons(
    {
      video: output.video,
      upright: { width: 1920, height: 1080 },
      frames: 100,
      outputs: new Map([[3, made]]),
      originals: new Map([[3, original]]),
      burn: null,
    },
    true,
  ).find(({ name }) => name === 'picture in its place');

describe('a picture held against its original', () => {
  it('of nothing but grain is not blamed on an encoder that makes grain anew', () => {
    expect(held(grain(7, 8_000), grain(8, 8_000))).toMatchObject({
      holds: true,
      found: 'nothing but grain to tell by',
    });
  });

  it('is another picture where either has more than grain', () => {
    expect(held(picture, grain(8, 8_000))?.holds).toBe(false);
    expect(held(grain(7, 8_000), picture)?.holds).toBe(false);
    expect(held(picture, picture)?.holds).toBe(true);
  });
});

/** A picture that moves: each frame the pattern a few samples on, so that no two are alike. */
const moving = (frame: number, { dx = 0, dy = 0, light = (value: number) => value } = {}): Small => ({
  width,
  height,
  luma: Uint16Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) - 6 * frame - dx, Math.floor(i / width) - dy];
    return light(30_000 + 7_000 * Math.sin(x / 19) * Math.cos(y / 13) + 4_000 * Math.sin((x + 2 * y) / 23));
  }),
});
const originals = new Map(Array.from({ length: 12 }, (_, n) => [n, moving(n)] as const));
const compared = (outputs: readonly (readonly [number, Small])[], sameLight = true, video: Partial<VideoPlan> = {}) => {
  const found = pictureComparisons(
    {
      video: { ...output.video, ...video },
      upright: { width: 1920, height: 1080 },
      frames: 12,
      outputs: new Map(outputs),
      originals,
      burn: null,
    },
    sameLight,
  );
  const of = (name: string) => found.find((one) => one.name === name);
  return { frames: of('frames shown'), place: of('picture in its place') };
};

describe('the frames of an output', () => {
  it("are the original's by the map, and said to be so many", () => {
    const { frames, place } = compared([3, 6, 8].map((n) => [n, moving(n)]));
    expect(frames).toEqual({
      name: 'frames shown',
      planned: "each sampled frame the original's by the map",
      found: '3 of 3 sampled frames',
      holds: true,
    });
    expect(place).toEqual({
      name: 'picture in its place',
      planned: "as the original's window, not shifted",
      found: 'likeness 1.0000 at least, within 0.00 samples',
      holds: true,
    });
  });

  it.each([1, -1])('are not when one shows its neighbour, %i frame off', (off) => {
    const { frames } = compared([
      [3, moving(3)],
      [6, moving(6 + off)],
    ]);
    expect(frames).toMatchObject({ found: `frame 7 shows ${7 + off} of the original, not 7`, holds: false });
  });

  it('are told apart through other light only where the picture is clearly like one', () => {
    const dimmer = (value: number): number => 0.6 * value + 5_000;
    expect(compared([[6, moving(6, { light: dimmer })]], false).frames?.found).toBe('1 of 1 sampled frames');
    expect(compared([[6, moving(7, { light: dimmer })]], false).frames).toMatchObject({
      found: 'frame 7 shows 8 of the original, not 7',
      holds: false,
    });
    // A curve that leaves a picture hardly like itself says nothing of frames, and is no fault of its place.
    const folded = (value: number): number => 30_000 + 8_000 * Math.sin(value / 1_500);
    expect(compared([[6, moving(7, { light: folded })]], false)).toMatchObject({
      frames: { holds: true },
      place: { holds: true },
    });
    expect(compared([[6, moving(6, { light: folded })]], true).place?.holds).toBe(false);
  });

  it('cannot be told where nothing moves', () => {
    const still = compared([[3, moving(0)]]);
    expect(still.frames?.holds).toBe(false);
    const stood = pictureComparisons(
      {
        video: output.video,
        upright: { width: 1920, height: 1080 },
        frames: 12,
        outputs: new Map([[3, picture]]),
        originals: new Map([2, 3, 4].map((n) => [n, picture])),
        burn: null,
      },
      true,
    );
    expect(stood[0]).toMatchObject({ found: 'nothing moves to tell by', holds: true });
  });

  it('that are mixed of two are held against the mixture', () => {
    const map = { kind: 'blend', ratio: { num: 2, den: 1 } } as const;
    const [before, after] = [moving(2).luma, moving(3).luma];
    const half: Small = { width, height, luma: before.map((value, i) => (value + (after[i] as number)) / 2) };
    expect(compared([[5, half]], true, { map }).place?.holds).toBe(true);
    expect(compared([[5, half]], true, { map }).frames?.found).toBe('nothing moves to tell by');
    expect(compared([[5, moving(8)]], true, { map }).place?.holds).toBe(false);
  });
});

describe('the place of a picture', () => {
  // Small pictures are a sixth of the output's raster each way: half a small sample is three of its samples.
  const unit = output.video.raster.width / width;

  it.each([
    { dx: 1, dy: 0 },
    { dx: -1, dy: 0 },
    { dx: 0, dy: 1 },
  ])('by less than a point is told by its slopes: %o', (off) => {
    const { place } = compared([3, 6, 8].map((n) => [n, moving(n, off)]));
    const [right, lower] = [off.dx * unit, off.dy * unit];
    expect(place?.holds).toBe(false);
    const said = /lies (-?[\d.]+) samples to the right and (-?[\d.]+) lower/.exec(place?.found ?? '');
    expect(Math.abs(Number(said?.[1]) - right)).toBeLessThan(0.1 * unit);
    expect(Math.abs(Number(said?.[2]) - lower)).toBeLessThan(0.1 * unit);
  });

  it('up to three quarters of a sample off is no fault', () => {
    const off = (samples: number) => compared([3, 6, 8].map((n) => [n, moving(n, { dx: samples / unit })])).place;
    expect([off(0.6)?.holds, off(-0.6)?.holds, off(1)?.holds, off(-1)?.holds]).toEqual([true, true, false, false]);
  });

  it.each([
    [{ dx: 27 }, 'frame 4 lies to the right'],
    [{ dx: -27 }, 'frame 4 lies to the left'],
    [{ dy: 13 }, 'frame 4 lies lower'],
    [{ dy: -13 }, 'frame 4 lies higher'],
  ])('by far more is told by likeness, also through other light: %o', (off, said) => {
    expect(compared([[3, moving(3, off)]], false)).toMatchObject({ place: { found: said, holds: false } });
    expect(compared([[3, moving(3, off)]], true).place).toMatchObject({ found: said, holds: false });
  });

  it('is not told from the slope of a bare sky that a curve bends', () => {
    // A dusk, with the noise of an encoder, through a contrast that clips what is brightest.
    const sky = (seed: number, light = (value: number) => value): Small => ({
      ...picture,
      luma: grain(seed, 120).luma.map((noise, i) => light(12_000 + 100 * (i % width) + noise - 32_000)),
    });
    const contrast = (value: number): number => Math.min(58_000, 1_000 + 2.1 * (value - 12_000));
    const place = (made: Small) =>
      pictureComparisons(
        {
          video: output.video,
          upright: { width: 1920, height: 1080 },
          frames: 12,
          outputs: new Map([[3, made]]),
          originals: new Map([[3, sky(5)]]),
          burn: null,
        },
        false,
      ).find(({ name }) => name === 'picture in its place');
    expect(place(sky(6, contrast))).toMatchObject({ holds: true, found: expect.stringMatching(/^likeness 0\.99/) });
  });

  it('where lines were made up is not told to the sample', () => {
    const steps = [...output.video.steps, { kind: 'deinterlace' } as never];
    expect(compared([[3, moving(3)]], true, { steps }).place?.found).toBe('likeness 1.0000 at least');
  });

  it('of what is stabilised may be moved, as far as was said', () => {
    const steady = { kind: 'stabilise', maxShift: 60, zoomPercent: 0 } as never;
    const steps = [...output.video.steps, steady];
    // Sixty samples of the original are ten of the small picture.
    const { place, frames } = compared([[3, moving(3, { dx: 8, dy: -4 })]], true, { steps });
    expect(place).toMatchObject({ planned: "as the original's window, moved by 60 samples at most", holds: true });
    expect(frames?.holds).toBe(true);
    expect(compared([[3, grain(5, 9_000)]], true, { steps }).place?.holds).toBe(false);
  });
});

describe('frames that are looked at', () => {
  it('are spread over the length, in the middle of equal parts', () => {
    expect(sampledFrames(100)).toEqual([10, 30, 50, 70, 90]);
    expect(sampledFrames(3)).toEqual([0, 1, 2]);
    expect(sampledFrames(1)).toEqual([0]);
    expect(sampledFrames(40, 2)).toEqual([10, 30]);
  });

  it('want their originals and those beside them, within the clip', () => {
    const every = { ...output.video, map: { kind: 'every' } } as VideoPlan;
    expect(originalsWanted(every, 12, [0, 5, 11])).toEqual([0, 1, 4, 5, 6, 10, 11]);
    const woven = { ...output.video, map: { kind: 'blend', ratio: { num: 2, den: 1 } } } as VideoPlan;
    expect(originalsWanted(woven, 12, [5])).toEqual([1, 2, 3, 4]);
  });
});
