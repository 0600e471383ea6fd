import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { pictureComparisons } from './picture.ts';
import { type Small } from './smalls.ts';

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
