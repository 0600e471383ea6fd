import { sampleClip } from '@relay/core/clip/sample';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { describe, expect, it } from 'vitest';
import { complaints, inputArguments } from '../process/ffmpeg.ts';
import { legArguments } from './command.ts';

const planOf = (...args: Parameters<typeof sampleClip>): LegPlan => unwrap(planLeg(sampleClip(...args), finishAndCut));
const commandOf = (plan: LegPlan): string[] =>
  legArguments(plan, inputArguments('/in/clip; rm -rf.mov'), ['/out/a', '/out/b'], [{ quantiser: 3 }, {}]);
/** The value that follows an option, counted from the first. */
const after = (args: readonly string[], option: string, nth = 0): string | undefined =>
  args[
    args.flatMap((arg, index) => (arg === option ? [index] : []))[nth] === undefined
      ? -1
      : (args.flatMap((arg, index) => (arg === option ? [index] : []))[nth] as number) + 1
  ];

describe('the one command of a leg', () => {
  it('opens one input, closed to everything else, and writes every deliverable', () => {
    const args = commandOf(planOf());
    expect(args.filter((arg) => arg === '-i')).toHaveLength(1);
    expect(after(args, '-i')).toBe('file:/in/clip; rm -rf.mov');
    expect(after(args, '-protocol_whitelist')).toBe('file');
    expect(after(args, '-format_whitelist')?.split(',')).not.toContain('concat');
    expect(args.filter((arg) => arg.startsWith('file:/out/'))).toEqual(['file:/out/a', 'file:/out/b']);
    expect(args).toContain('-y'); // What it writes to was made for it, under a name that nothing had.
  });

  it('maps every sound track by number, carries timecode and reel, and drops what would be copied broken', () => {
    const args = commandOf(planOf());
    expect(args.filter((arg) => /^0:a:\d$/.test(arg))).toEqual([
      '0:a:0',
      '0:a:1',
      '0:a:2',
      '0:a:3',
      '0:a:4',
      '0:a:5',
      '0:a:0',
      '0:a:1',
      '0:a:2',
      '0:a:3',
      '0:a:4',
      '0:a:5',
    ]);
    expect(after(args, '-timecode', 1)).toBe('10:02:11:08');
    expect(after(args, '-metadata:s:v:0')).toBe('reel_name=A001');
    expect(args.filter((arg) => arg === '-dn')).toHaveLength(2);
    expect(after(args, '-map_metadata')).toBe('-1');
  });

  it('states matrix and range on both sides, every frame once, and the tags last', () => {
    const filters = after(commandOf(planOf()), '-filter:v') ?? '';
    expect(filters).toContain('in_color_matrix=bt709:out_color_matrix=bt709:in_range=tv:out_range=tv');
    expect(filters).toContain('settb=1001/24000,setpts=N');
    expect(filters.split(',').at(-1)).toBe(
      'setparams=field_mode=prog:range=tv:color_primaries=bt709:color_trc=bt709:colorspace=bt709',
    );
  });

  it('states what untagged samples are taken for, and invents no other tag', () => {
    const args = commandOf(planOf({}, { colour: { primaries: null, transfer: null, matrix: null, range: null } }));
    expect(args).not.toContain('-color_primaries');
    expect(after(args, '-filter:v')).toContain('color_primaries=unknown:color_trc=unknown:colorspace=bt709');
  });

  it('scales fields as fields, and deinterlaces in the order that the original states', () => {
    const args = commandOf(
      planOf({}, { scan: 'bottom-field-first', raster: { width: 1440, height: 1080 }, pixelAspect: rational(4, 3) }),
    );
    expect(after(args, '-filter:v')).toContain('interl=1');
    expect(after(args, '-filter:v')).toContain('field_mode=bff');
    expect(after(args, '-flags')).toBe('+ildct');
    expect(after(args, '-top')).toBe('0');
    expect(after(args, '-filter:v', 1)).toContain('bwdif=mode=send_frame:parity=bff');
    expect(after(args, '-filter:v', 1)).toContain('interl=0');
  });

  it('moves sound to begin with the picture, and draws it out only for originals that are whole', () => {
    const late = after(commandOf(planOf({}, { start: rational(1, 25) })), '-filter:a:0') ?? '';
    expect(late).toContain('asetpts=PTS-0.040000000/TB');
    expect(late).toContain('apad=whole_len=144144,atrim=end_sample=144144');
    const cut = after(commandOf(planOf({ cutShort: '1 MB missing' })), '-filter:a:0') ?? '';
    expect(cut).not.toContain('apad');
    expect(cut).toContain('atrim=end_sample=144144');
  });

  it('steadies a varying rate before every frame is counted', () => {
    const filters =
      after(
        commandOf(planOf({ timecode: null }, { rateConstant: false, rate: rational(295, 10), duration: rational(3) })),
        '-filter:v',
      ) ?? '';
    expect(filters.indexOf('fps=30000/1001')).toBeGreaterThan(filters.indexOf('setpts=PTS-STARTPTS'));
    expect(filters.indexOf('setpts=N')).toBeGreaterThan(filters.indexOf('fps='));
  });
});

describe('a chain baked in', () => {
  const chain = {
    input: 'slog3-sgamut3cine',
    inputRange: 'full' as const,
    steps: [],
    output: 'bt2020',
    rendering: null,
  };
  const plan = unwrap(planLeg(sampleClip(), finishAndCut, { colour: chain }));

  it('scales first, states matrix and range on both sides of the LUT, and tags the picture as what it is then', () => {
    const args = legArguments(
      plan,
      inputArguments('/in.mov'),
      ['/a', '/b'],
      [{ quantiser: 3 }, { lut: '/tmp/x/1.cube' }],
    );
    const proxy = (after(args, '-filter:v', 1) ?? '').split(',');
    const order = [
      'scale=960:540',
      'zscale=min=709:rin=full:m=gbr:r=full',
      'lut3d=file=/tmp/x/1.cube:interp=tetrahedral',
      'zscale=min=gbr:rin=full:m=2020_ncl:r=full',
      'setparams=field_mode=prog:range=tv:color_primaries=bt2020:color_trc=bt2020-10:colorspace=bt2020nc',
    ];
    const places = order.map((start) => proxy.findIndex((filter) => filter.startsWith(start)));
    expect(places.every((place) => place >= 0)).toBe(true);
    expect([...places].sort((a, b) => a - b)).toEqual(places);
    // The intermediate stays as shot, with its LUT beside it.
    expect(after(args, '-filter:v')).not.toContain('lut3d');
    expect(plan.outputs[0]?.colour).toMatchObject({
      kind: 'beside',
      path: expect.stringMatching(/^luts\/slog3-sgamut3cine-to-bt2020-[0-9a-f]{8}\.cube$/) as string,
    });
  });

  it('takes no LUT of a name that a filter could read otherwise, and none that is missing', () => {
    for (const lut of [undefined, '/tmp/a b.cube', "/tmp/x'.cube", '/tmp/x,negate.cube']) {
      expect(() => legArguments(plan, inputArguments('/in.mov'), ['/a', '/b'], [{}, { lut }])).toThrow(RangeError);
    }
  });
});

it('complaints lose their addresses, full stops and repeats', () => {
  const said =
    '[h264 @ 0x55d0c0ffee00] error while decoding MB 3 4.\n[h264 @ 0x55d0c0ffee11] error while decoding MB 3 4.\n    Last message repeated 3 times\n[NULL @ 0x1] Invalid NAL unit size (5 > 4).\n\n';
  expect(complaints(said)).toEqual(['h264: error while decoding MB 3 4', 'Invalid NAL unit size (5 > 4)']);
  expect(complaints(Array.from({ length: 50 }, (_, n) => `line ${n}`).join('\n'))).toHaveLength(6);
});
