import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut, type VideoCodec } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import type { BurnPlan } from '../burn/plan.ts';
import type { OutputPlan, VideoPlan } from '../recipe/legPlan.ts';
import { coloursComparison, coloursMost } from './colours.ts';
import type { Small } from './smalls.ts';
import { legalCodesOf, signalsOf, smallOf, type Reading } from './reading.ts';

/** A picture of even blocks: white, black, and colours between, in legal BT.709 of 16 bits. */
const [width, height] = [320, 180];
const legal709: Reading = { rgb: false, bitDepth: 10, range: 'legal', matrix: 'bt709' };
const blocks: readonly (readonly [number, number, number])[] = [
  [1, 1, 1],
  [0, 0, 0],
  [0.75, 0.1, 0.1],
  [0.1, 0.7, 0.2],
  [0.2, 0.2, 0.8],
  [0.8, 0.6, 0.45],
  [0.18, 0.18, 0.18],
  [0.1, 0.6, 0.6],
];

type Planes = [Uint16Array, Uint16Array, Uint16Array];
function painted(
  change: (rgb: readonly [number, number, number]) => readonly [number, number, number] = (rgb) => rgb,
  matrix = 'bt709',
): Planes {
  const rows: [Float32Array, Float32Array, Float32Array] = [0, 1, 2].map(
    () => new Float32Array(width * height),
  ) as never;
  for (let i = 0; i < width * height; i += 1) {
    const rgb = change(blocks[Math.floor(((i % width) * blocks.length) / width)] as readonly [number, number, number]);
    rgb.forEach((value, c) => {
      (rows[c] as Float32Array)[i] = value;
    });
  }
  const codes = legalCodesOf(rows, matrix);
  const size = width * height;
  return [codes.subarray(0, size), codes.subarray(size, 2 * size), codes.subarray(2 * size)];
}
const small = (planes: Planes, reading: Reading): Small => smallOf(width, height, planes, reading);

const output = unwrap(planLeg(sampleClip({}, {}), finishAndCut)).outputs[0];
if (!output) throw new Error('no output');
const upright = { width: 1920, height: 1080 };
const held = (made: Planes, madeAs: Reading, most = 2.5) =>
  coloursComparison(
    {
      video: output.video,
      upright,
      frames: 100,
      outputs: new Map([[3, small(made, madeAs)]]),
      originals: new Map([[3, small(painted(), legal709)]]),
      burn: null,
    },
    { made: madeAs, shot: legal709 },
    most,
  );

describe('colours as shot', () => {
  it('are those of the original, read by the tags that are found', () => {
    expect(held(painted(), legal709)).toMatchObject({ holds: true, found: '0.00 of 255 at most, over 8 colours' });
    expect(held(painted(undefined, 'smpte170m'), { ...legal709, matrix: 'smpte170m' })?.holds).toBe(true);
  });

  it('are not where a matrix, a range or a level is wrong', () => {
    // BT.709 samples that a reader takes for BT.601: what an untagged proxy of an HD original was.
    const matrix = held(painted(), { ...legal709, matrix: 'smpte170m' });
    expect(matrix?.holds).toBe(false);
    expect(Number.parseFloat(matrix?.found ?? '')).toBeGreaterThan(15);
    expect(held(painted(), { ...legal709, range: 'full' })?.holds).toBe(false);
    // White that comes out as 1019 of 1023, which 8 bits would hardly show.
    expect(
      held(
        painted(([r, g, b]) => [r * 0.996, g * 0.996, b * 0.996]),
        legal709,
        0.5,
      )?.holds,
    ).toBe(false);
    expect(
      held(
        painted(([r, g, b]) => [r, g, b + 0.02]),
        legal709,
      )?.holds,
    ).toBe(false);
  });

  it('are not blamed on an output that ends at black and white for what fine patterns reach beyond them', () => {
    // Each place is a fine pattern about its colour, which the mean does not show; an image file cuts off what lies
    // beyond 0 and 1.
    const rgb: Reading = { rgb: true, bitDepth: 16, range: 'full', matrix: 'bt709' };
    const order = ([r, g, b]: readonly number[]): number[] => [g as number, b as number, r as number];
    const files = (change: (value: number) => number): Planes =>
      order([0, 1, 2]).map((c) =>
        Uint16Array.from({ length: width * height }, (_, i) =>
          Math.round(
            65_535 *
              change((blocks[Math.floor(((i % width) * blocks.length) / width)] as readonly number[])[c] as number),
          ),
        ),
      ) as Planes;
    const cut = (value: number): number => Math.min(1, Math.max(0, value));
    const made = files((value) => (cut(value - 0.3) + cut(value + 0.3)) / 2);
    const compare = (original: Small) =>
      coloursComparison(
        {
          video: output.video,
          upright,
          frames: 100,
          outputs: new Map([[3, smallOf(width, height, made, rgb)]]),
          originals: new Map([[3, original]]),
          burn: null,
        },
        { made: rgb, shot: legal709 },
        0.5,
      );
    let n = 0;
    const patterned = painted((colour) => {
      n += 1;
      return colour.map((value) => value + (n % 2 ? 0.3 : -0.3)) as [number, number, number];
    });
    expect(compare(smallOf(width, height, painted(), legal709))?.holds).toBe(false);
    expect(compare(smallOf(width, height, painted(), legal709, patterned))).toMatchObject({ holds: true });
    // Where there is no pattern, a wrong level is still one.
    const dim = files((value) => value * 0.99);
    expect(
      coloursComparison(
        {
          video: output.video,
          upright,
          frames: 100,
          outputs: new Map([[3, smallOf(width, height, dim, rgb)]]),
          originals: new Map([[3, smallOf(width, height, painted(), legal709, painted())]]),
          burn: null,
        },
        { made: rgb, shot: legal709 },
        0.5,
      )?.holds,
    ).toBe(false);
  });

  it('are read as published: BT.709-6, item 3.6, 940 and 64 of 10 bits; H.273 full range, 1023 and 0', () => {
    const one = (planes: readonly number[], reading: Reading): number[] =>
      signalsOf(planes.map((value) => Uint16Array.of(value)) as never, reading).map(
        (row) => Math.round((row[0] as number) * 1e4) / 1e4,
      );
    expect(one([940 << 6, 512 << 6, 512 << 6], legal709)).toEqual([1, 1, 1]);
    expect(one([64 << 6, 512 << 6, 512 << 6], legal709)).toEqual([0, 0, 0]);
    expect(one([1023 << 6, 512 << 6, 512 << 6], { ...legal709, range: 'full' })).toEqual([1, 1, 1]);
    expect(one([255 << 8, 0, 255 << 8], { rgb: true, bitDepth: 8, range: 'full', matrix: 'bt709' })).toEqual([1, 1, 0]);
  });
});

describe('what colours are told by', () => {
  /** Fields of a colour, as many samples wide as they say. */
  const fields = (of: readonly (readonly [number, readonly [number, number, number]])[]): Planes => {
    const rows: [Float32Array, Float32Array, Float32Array] = [0, 1, 2].map(
      () => new Float32Array(width * height),
    ) as never;
    for (let i = 0; i < width * height; i += 1) {
      let x = i % width;
      const field = of.find(([wide]) => {
        x -= wide;
        return x < 0;
      });
      field?.[1].forEach((value, c) => {
        (rows[c] as Float32Array)[i] = value;
      });
    }
    const codes = legalCodesOf(rows, 'bt709');
    const size = width * height;
    return [codes.subarray(0, size), codes.subarray(size, 2 * size), codes.subarray(2 * size)];
  };
  const compare = (
    shot: Planes,
    made: Planes,
    rest: { burn?: BurnPlan; steps?: VideoPlan['steps']; frame?: number } = {},
  ) =>
    coloursComparison(
      {
        video: { ...output.video, ...(rest.steps ? { steps: rest.steps } : {}) },
        upright,
        frames: 100,
        outputs: new Map([[3, small(made, legal709)]]),
        originals: new Map([[rest.frame ?? 3, small(shot, legal709)]]),
        burn: rest.burn ?? null,
      },
      { made: legal709, shot: legal709 },
      2.5,
    );
  const [grey, blue] = [
    [0.4, 0.4, 0.4],
    [0.1, 0.2, 0.7],
  ] as const;

  it('is the mean over a colour, said of 255, the worst of its channels', () => {
    const off = (by: number) => compare(fields([[320, grey]]), fields([[320, [0.4, 0.4 + by / 255, 0.4]]]));
    expect(off(2)).toEqual({
      name: 'colours as shot',
      planned: 'within 2.5 of 255, read by its tags',
      found: expect.stringMatching(/^(1\.9|2\.0)\d of 255 at most, over 1 colour$/) as string,
      holds: true,
    });
    expect([off(3)?.holds, off(-3)?.holds, off(-2)?.holds]).toEqual([false, false, true]);
  });

  it('counts a colour that fills enough of the picture, and no other', () => {
    // Cells are 6⅔ of these samples wide; an edge takes one each way.
    const made = (wide: number) =>
      compare(
        fields([
          [wide, blue],
          [320, grey],
        ]),
        fields([
          [wide, [0.3, 0.2, 0.7]],
          [320, grey],
        ]),
      );
    expect(made(60)).toMatchObject({ holds: false });
    expect(made(60)?.found).toContain('over 2 colours');
    expect(made(10)).toMatchObject({ holds: true });
    expect(made(10)?.found).toContain('over 1 colour');
  });

  it('is nothing where all is covered, frames are missing, or the picture lies elsewhere each time', () => {
    const shot = fields([[320, grey]]);
    const wrong = fields([[320, blue]]);
    const burn = {
      raster: output.video.raster,
      boxes: [{ plate: { x: 0, y: 0, ...output.video.raster } }],
      image: null,
      across: null,
    } as unknown as BurnPlan;
    expect(compare(shot, wrong, { burn })).toMatchObject({ found: 'no place of one colour to tell by', holds: true });
    expect(compare(shot, wrong, { frame: 4 })).toMatchObject({
      found: 'no place of one colour to tell by',
      holds: true,
    });
    expect(compare(shot, wrong)).toMatchObject({ holds: false });
    expect(compare(shot, wrong, { steps: [{ kind: 'stabilise' } as never] })).toBeNull();
  });

  it('is no edge, over which thinned-out chroma bleeds', () => {
    const stripes = fields(Array.from({ length: 40 }, (_, i) => [8, i % 2 ? grey : blue] as const));
    const others = fields(
      Array.from({ length: 40 }, (_, i) => [8, i % 2 ? ([0.7, 0.4, 0.4] as const) : blue] as const),
    );
    expect(compare(stripes, others)?.found).toBe('no place of one colour to tell by');
  });

  it('may lie off by half a code where nothing is lost, and by more where a coder may', () => {
    const most = (codec: VideoCodec): number => coloursMost({ codec } as OutputPlan);
    expect([
      most({ id: 'pictures', format: 'dpx' }),
      most({ id: 'v210' }),
      most({ id: 'ffv1', sampling: '4:2:2 10' }),
      most({ id: 'prores', profile: 'hq' }),
    ]).toEqual([0.5, 1, 1, 4]);
  });
});
