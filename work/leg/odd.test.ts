import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { joinChapters } from '@relay/core/clip/chapters';
import type { ClipDescription } from '@relay/core/clip/description';
import type { ClipCorrections } from '@relay/core/corrections/corrections';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { originals } from '@relay/demo/originals';
import { paintOriginal } from '@relay/demo/paint';
import { describeFile } from '@relay/media/describe/describe';
import { lookAtPictures } from '@relay/media/look/pictures';
import { placesIn } from '@relay/media/look/places';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { slates } from '../../testing/slates.ts';
import { runLeg } from './leg.ts';
import type { LegResult } from './outcome.ts';
import { quickH264 } from '../../testing/commands.ts';

let folder: string;
const proxies: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables.filter(({ role }) => role === 'proxy'),
};
const timecode = 'as labelled' as const;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-odd-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function made(name: string, ...args: string[]): Promise<ClipDescription> {
  const ended = await run(ffmpeg, ['-v', 'error', '-y', ...args, join(folder, name)]);
  if (ended.code !== 0) throw new Error(ended.stderr);
  return (await describeFile(join(folder, name), name)) as ClipDescription;
}

async function runWith(
  clip: ClipDescription,
  corrections: ClipCorrections,
  into: string,
): Promise<{ plan: LegPlan; result: LegResult }> {
  const plan = unwrap(planLeg(clip, proxies, corrections));
  return {
    plan,
    result: await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: into },
      owner: `test.${into}`,
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    }),
  };
}

const moving = (rate: string, size = '320x180', seconds = 2): string[] => [
  '-f',
  'lavfi',
  '-i',
  `testsrc2=s=${size}:r=${rate}:d=${seconds}`,
];
const sweep = (rate = 48000, seconds = 2): string[] => [
  '-f',
  'lavfi',
  '-i',
  `aevalsrc=0.5*sin(2*PI*(200+300*t)*t):s=${rate}:d=${seconds}`,
];
const video = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', '-pix_fmt', 'yuv420p'];
const relabel = (rate: ReturnType<typeof rational>): ClipCorrections => ({
  time: { kind: 'relabel', rate, timecode, sound: 'stretched' },
});
const hold = (rate: ReturnType<typeof rational>): ClipCorrections => ({
  time: { kind: 'resample', rate, how: 'hold', timecode },
});

describe('odd originals under conforms', () => {
  it.each<[string, string[], ClipCorrections, number]>([
    [
      'sound before pictures',
      [
        ...moving('25'),
        '-itsoffset',
        '-0.4',
        ...sweep(),
        ...video,
        '-c:a',
        'pcm_s16le',
        '-avoid_negative_ts',
        'disabled',
      ],
      relabel(rational(24)),
      50,
    ],
    [
      'pictures before sound',
      [...moving('25'), '-itsoffset', '0.4', ...sweep(), ...video, '-c:a', 'pcm_s16le'],
      hold(rational(30)),
      60,
    ],
    [
      'sound with a gap',
      [
        ...moving('25', '320x180', 4),
        ...sweep(48000, 4),
        '-af',
        'aselect=not(between(t\\,1\\,1.5))',
        ...video,
        '-c:a',
        'pcm_s16le',
        '-f',
        'matroska',
      ],
      relabel(rational(30)),
      100,
    ],
    ['no sound', [...moving('25'), ...video], relabel(rational(24000, 1001)), 50],
    ['one frame', [...moving('25'), '-frames:v', '1', ...video], hold(rational(30)), 1],
    [
      '119.88 slowed five times',
      [...moving('120000/1001', '320x180', 1), ...sweep(48000, 1), ...video, '-c:a', 'pcm_s16le'],
      relabel(rational(24000, 1001)),
      120,
    ],
    ['1000 fps', [...moving('1000', '160x90', 1), ...video], relabel(rational(25)), 1000],
    [
      'odd raster',
      [...moving('25', '321x181'), '-c:v', 'ffv1', '-pix_fmt', 'yuv444p', '-f', 'matroska'],
      hold(rational(24)),
      48,
    ],
    ['timecode past midnight', [...moving('25'), ...video, '-timecode', '23:59:59:10'], relabel(rational(24)), 50],
  ])('%s', async (name, args, corrections, frames) => {
    const file = `${name.replaceAll(/\W/g, '-')}.${args.includes('matroska') ? 'mkv' : 'mov'}`;
    const { plan, result } = await runWith(await made(file, ...args), corrections, file.replace('.', '-'));
    expect(plan.outputs[0]?.video.frames).toBe(frames);
    expect(result.outputs[0]?.proof?.reasons ?? [result.problem?.what]).toEqual([]);
    expect(result.state).toBe('proved');
  });

  it.each([
    ['one.mxf', ['-an', '-c:v', 'mpeg2video', '-q:v', '2']],
    ['one.ts', ['-an', ...quickH264]],
    ['one.mov', [...quickH264, '-c:a', 'pcm_s16le']],
  ] as const)('one picture, from %s into every kind of wrapper', async (name, coding) => {
    const clip = await made(
      name,
      ...moving('24000/1001', '1920x1080', 1),
      ...sweep(48000, 1),
      '-frames:v',
      '1',
      '-shortest',
      ...coding,
    );
    const [intermediate] = finishAndCut.deliverables as [Deliverable];
    const wrapped = (
      folderName: string,
      codec: Deliverable['codec'],
      wrapper: Deliverable['wrapper'],
    ): Deliverable => ({ ...intermediate, name: folderName, folder: folderName, codec, wrapper });
    const deliverables = [
      wrapped('prores', { id: 'prores', profile: 'hq' }, 'mov'),
      wrapped('vc3', { id: 'vc3', profile: 'hqx' }, 'mxf'),
      wrapped('ffv1', { id: 'ffv1', sampling: '4:2:2 10' }, 'mkv'),
      wrapped('h264', { id: 'h264', quality: 20 }, 'mov'),
    ];
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables }));
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: `single-${name}` },
      owner: 'test.single',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect(
      result.outputs.map(({ path, state, problem, proof }) => [path, state, problem?.what ?? null, proof?.reasons]),
    ).toEqual(plan.outputs.map(({ path }) => [path, 'proved', null, []]));
  });

  it('an edit list that begins 45 frames in: what a player shows is what is made', async () => {
    await made(
      'whole.mov',
      ...moving('25', '320x180', 4),
      '-f',
      'lavfi',
      '-i',
      'aevalsrc=0.8*lt(mod(t\\,0.5)\\,0.004)*sin(2*PI*1000*mod(t\\,0.5)):s=48000:d=4',
      ...video,
      '-g',
      '60',
      '-c:a',
      'pcm_s16le',
    );
    // Copied from there on: the packets from the whole picture before are kept, and left out by the list.
    const clip = await made(
      'late.mov',
      '-ss',
      '1.8',
      '-i',
      join(folder, 'whole.mov'),
      '-map',
      '0:v',
      '-map',
      '0:a',
      '-c',
      'copy',
    );
    expect(clip.video).toMatchObject({ frames: 55, rateConstant: true, rate: { num: 25, den: 1 } });
    const { plan, result } = await runWith(clip, {}, 'late');
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    // The same frames as decoding the whole and leaving out the first 45 gives, by an output of the whole.
    const lumas = async (path: string, from: number): Promise<number[]> => {
      const rows: number[] = [];
      await run(
        ffmpeg,
        [
          '-v',
          'error',
          ...inputArguments(path),
          '-map',
          '0:v:0',
          '-vf',
          `trim=start_frame=${from},scale=64:36:flags=area,format=yuv420p,extractplanes=y`,
          '-fps_mode',
          'passthrough',
          '-f',
          'rawvideo',
          'pipe:1',
        ],
        {
          onData: (chunk) => {
            rows.push(...chunk);
          },
        },
      );
      return rows;
    };
    const [wanted, found] = [
      await lumas(join(folder, 'whole.mov'), 45),
      await lumas(join(folder, 'late', plan.outputs[0]?.path as string), 0),
    ];
    expect(found).toHaveLength(wanted.length);
    expect(
      found.reduce((sum, value, i) => sum + Math.abs(value - (wanted[i] as number)), 0) / found.length,
    ).toBeLessThan(2);
  });

  it('an hour of sound from 44.1 kHz is in step to the sample at its end', async () => {
    // A click each minute, and two pictures a second: what is measured is sound. One minute is made, and said 60 times.
    await made(
      'minute.mov',
      ...moving('2', '64x36', 60),
      '-f',
      'lavfi',
      '-i',
      'aevalsrc=0.9*lt(t\\,0.002)*sin(2*PI*1000*t):s=44100:d=60',
      ...video,
      '-g',
      '100',
      '-c:a',
      'pcm_s16le',
    );
    const clip = await made('hour.mov', '-stream_loop', '59', '-i', join(folder, 'minute.mov'), '-c', 'copy');
    expect(clip.video?.frames).toBe(7200);
    const { plan, result } = await runWith(clip, {}, 'hour');
    expect(result.state).toBe('proved');
    expect(plan.outputs[0]?.sound.samples).toBe(3600 * 48_000);
    // The click at 59 minutes, found in the output: where its samples first rise above a hundredth.
    const chunks: Buffer[] = [];
    await run(
      ffmpeg,
      [
        '-v',
        'error',
        '-ss',
        '3539',
        ...inputArguments(join(folder, 'hour', plan.outputs[0]?.path as string)),
        '-map',
        '0:a:0',
        '-t',
        '2',
        '-f',
        's16le',
        '-ac',
        '1',
        'pipe:1',
      ],
      {
        onData: (chunk) => {
          chunks.push(chunk);
        },
      },
    );
    const bytes = Buffer.concat(chunks);
    let first = 0;
    while (first < bytes.length / 2 && Math.abs(bytes.readInt16LE(first * 2)) < 328) first += 1;
    expect(Math.abs(first - 48_000)).toBeLessThanOrEqual(2);
  });
});

describe("a recorder's file", () => {
  it('runs into the deliverables of sound alone, to the sample, from its own time since midnight', async () => {
    // 44.1 kHz, so that its time reference is counted otherwise in the output: 10 h 0 min 0.5 s.
    const clip = await made(
      'S14T3.wav',
      '-f',
      'lavfi',
      '-i',
      'aevalsrc=0.5*sin(2*PI*440*t)|0.3*sin(2*PI*660*t)|0|0.2*sin(2*PI*880*t):s=44100:d=3.3',
      '-c:a',
      'pcm_s24le',
      '-write_bext',
      '1',
      '-metadata',
      `time_reference=${44_100 * 36_000 + 22_050}`,
    );
    expect([clip.video, clip.timeReference]).toEqual([null, 44_100 * 36_000 + 22_050]);
    expect(planLeg(clip, finishAndCut)).toMatchObject({
      ok: false,
      problem: { what: 'S14T3.wav is sound alone, and Finish and cut has no deliverable of sound alone' },
    });
    const [intermediate] = finishAndCut.deliverables as [Deliverable];
    const sound: Deliverable = {
      ...intermediate,
      name: 'Sound',
      folder: 'sound',
      codec: { id: 'none' },
      wrapper: 'wav',
    };
    const plan = unwrap(planLeg(clip, { ...finishAndCut, deliverables: [...finishAndCut.deliverables, sound] }));
    expect(plan.outputs.map(({ path }) => path)).toEqual(['sound/S14T3.wav']);
    expect(sayPlan(plan)).toContain("Starts at 10:00:00.500, the recorder's own time");
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'heard' },
      owner: 'test.heard',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    expect(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'sound in sync')?.found).toMatch(
      /^0\.00 ms over [34] stretches$/,
    );
    const out = (await describeFile(join(folder, 'heard/sound/S14T3.wav'), 'S14T3.wav')) as ClipDescription;
    expect([
      out.timeReference,
      out.audio.map(({ channels, sampleRate }) => [channels, sampleRate]),
      out.audio[0]?.duration,
    ]).toEqual([48_000 * 36_000 + 24_000, [[4, 48_000]], rational(33, 10)]);
  });
});

describe('files that are cut short', () => {
  const sound: Deliverable = {
    ...(finishAndCut.deliverables[0] as Deliverable),
    name: 'Sound',
    folder: 'sound',
    codec: { id: 'none' },
    wrapper: 'wav',
  };
  const tryIt = (clip: ClipDescription, deliverables: Deliverable[], into: string): Promise<LegResult> =>
    runLeg(unwrap(planLeg(clip, { ...finishAndCut, deliverables })), {
      sourceRoot: folder,
      outRoot: { root: folder, folder: into },
      owner: `test.${into}`,
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });

  it("as a recorder's is said to be, and what is made of it wants eyes; one whose size nobody wrote down is believed", async () => {
    await made('whole.wav', '-f', 'lavfi', '-i', 'sine=r=48000:d=4', '-c:a', 'pcm_s24le');
    const bytes = await readFile(join(folder, 'whole.wav'));
    await writeFile(join(folder, 'cut.wav'), bytes.subarray(0, 300_000));
    const clip = (await describeFile(join(folder, 'cut.wav'), 'cut.wav')) as ClipDescription;
    expect(clip.cutShort).toMatch(/^0\.3 MB are missing at the end of the file$/);
    const result = await tryIt(clip, [sound], 'cut-wav');
    expect([result.state, result.outputs[0]?.proof?.reasons]).toEqual(['needs eyes', [clip.cutShort]]);
    // A recorder that lost power before it wrote its sizes: FFmpeg reads to the end.
    const unsaid = Buffer.from(bytes);
    unsaid.writeUInt32LE(0, unsaid.indexOf('data') + 4);
    await writeFile(join(folder, 'unsaid.wav'), unsaid);
    expect(((await describeFile(join(folder, 'unsaid.wav'), 'unsaid.wav')) as ClipDescription).cutShort).toBeNull();
  });

  it("as the last chapter's is: the others are made whole, nothing is drawn out, and it wants eyes", async () => {
    for (const n of [1, 2, 3])
      await made(
        `part_0${n}.mov`,
        ...moving('25'),
        ...sweep(),
        ...video,
        '-c:a',
        'pcm_s16le',
        '-movflags',
        '+faststart',
      );
    const bytes = await readFile(join(folder, 'part_03.mov'));
    await writeFile(join(folder, 'part_03.mov'), bytes.subarray(0, Math.floor(bytes.length * 0.6)));
    const [clip, ...rest] = joinChapters(
      await Promise.all(
        [1, 2, 3].map(
          async (n) => (await describeFile(join(folder, `part_0${n}.mov`), `part_0${n}.mov`)) as ClipDescription,
        ),
      ),
    );
    expect([clip?.chapters.length, rest.length, clip?.cutShort !== null]).toEqual([3, 0, true]);
    const result = await tryIt(clip as ClipDescription, proxies.deliverables, 'cut-chapter');
    expect(result.state).toBe('needs eyes');
    const found = Number(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'frames')?.found);
    expect(found).toBeGreaterThan(100);
    expect(found).toBeLessThan(150);
    // One that is gone by then: named, and nothing is left under a final name.
    await rm(join(folder, 'part_02.mov'));
    const gone = await tryIt(clip as ClipDescription, proxies.deliverables, 'gone-chapter');
    expect([gone.state, gone.problem?.what]).toEqual(['failed', 'part_02.mov is no longer there']);
    expect(
      (await readdir(join(folder, 'gone-chapter'), { recursive: true }).catch(() => [])).filter((name) =>
        /\.mov/.test(name),
      ),
    ).toEqual([]);
  });
});

describe('timecode tracks', () => {
  /**
   * Changes a timecode track's sample entry (QuickTime File Format, timecode sample description): flags, time scale,
   * duration of a frame, frames a second.
   */
  async function retrack(name: string, as: string, change: (entry: Buffer) => void): Promise<ClipDescription> {
    const bytes = await readFile(join(folder, name));
    const reserved = Buffer.from([0, 0, 0, 0, 0, 0, 0, 1]);
    let at = bytes.indexOf('tmcd');
    while (at >= 0 && !bytes.subarray(at + 4, at + 12).equals(reserved)) at = bytes.indexOf('tmcd', at + 4);
    change(bytes.subarray(at + 4));
    await writeFile(join(folder, as), bytes);
    return (await describeFile(join(folder, as), as)) as ClipDescription;
  }

  it.each([
    ['25', '10:00:00:12', rational(25)],
    ['24000/1001', '01:02:03:04', rational(24000, 1001)],
  ] as const)('that claim drop-frame at %s keep their labels, counted without', async (rate, start, own) => {
    const name = `plain-${rate.replace('/', '-')}.mov`;
    await made(name, ...moving(rate), ...video, '-timecode', start);
    const clip = await retrack(name, `drop-${name}`, (entry) => entry.writeUInt32BE(entry.readUInt32BE(12) | 1, 12));
    expect(clip.timecode).toEqual({ start, dropFrame: false, written: { start, rate: own, dropClaimed: true } });
    const { plan, result } = await runWith(clip, {}, `drop-${rate.replace('/', '-')}`);
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    expect(plan.outputs[0]?.timecode?.start).toBe(start);
  });

  it('that count 25 beside 50 pictures a second name the same moment at 50', async () => {
    await made('fifty.mov', ...moving('50'), ...video, '-timecode', '05:00:00:12');
    // The same number, 900,012, at 25 a second is 10:00:00:12.
    const clip = await retrack('fifty.mov', 'half.mov', (entry) => {
      entry.writeUInt32BE(2500, 16);
      entry.writeUInt32BE(100, 20);
      entry.writeUInt8(25, 24);
    });
    expect(clip.timecode).toEqual({
      start: '10:00:00:24',
      dropFrame: false,
      written: { start: '10:00:00:12', rate: rational(25), dropClaimed: false },
    });
    const { result } = await runWith(clip, {}, 'half');
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
  });
});

describe('2:3 pulldown', () => {
  it('found in fields and taken out gives every film frame back once, in order', async () => {
    const film = originals.find(({ path }) => path.endsWith('S009C001.mov'));
    if (!film) throw new Error('not painted');
    // Slates and a scene that moves enough for fields to be told.
    await paintOriginal(
      {
        ...film,
        path: 'film.mov',
        rate: rational(24000, 1001),
        frames: 48,
        timecode: null,
        noise: 40,
        shot: { ...film.shot, ferry: { x: 0.9, speed: 0.5, size: 0.4 } },
      },
      folder,
    );
    const clip = await made(
      'pulled.mov',
      '-i',
      join(folder, 'film.mov'),
      '-vf',
      'telecine=pattern=23:first_field=top,trim=start_frame=3,setpts=PTS-STARTPTS',
      '-flags',
      '+ilme+ildct',
      '-c:v',
      'mpeg2video',
      '-b:v',
      '40M',
      '-pix_fmt',
      'yuv422p',
      '-map',
      '0:v:0',
      '-map',
      '0:a:0',
      '-c:a',
      'pcm_s16le',
      '-timecode',
      '01:00:00;00',
    );
    const { fields: seen } = await lookAtPictures(
      placesIn([join(folder, 'pulled.mov')], [2], 29.97),
      clip.video as NonNullable<ClipDescription['video']>,
      clip.wrapperId,
      join(folder, 'pulled.jpg'),
    );
    expect(seen).toMatchObject({ seen: 'pulldown', phase: 3, topFieldFirst: true });
    const { plan, result } = await runWith(
      clip,
      { scan: { read: 'top-field-first' }, time: { kind: 'pulldown-out', phase: seen?.phase ?? 0, timecode } },
      'pulled',
    );
    expect(result.outputs[0]?.proof?.reasons).toEqual([]);
    const [output] = plan.outputs as [LegPlan['outputs'][number]];
    expect(output.video.rate).toEqual(rational(24000, 1001));
    const { width, height } = output.video.raster;
    const numbers = await slates(join(folder, 'pulled', output.path), width, height, width / height);
    expect(numbers).toHaveLength(output.video.frames);
    expect(numbers).toEqual(numbers.map((_, n) => (numbers[0] as number) + n));
    expect(numbers[0]).toBeLessThanOrEqual(4);
    expect(numbers.length).toBeGreaterThanOrEqual(43);
  });
});

describe('AAC', () => {
  it('of white noise is the noise it was made of, and as loud where it keeps anything', async () => {
    const clip = await made(
      'noise.mov',
      ...moving('25'),
      '-f',
      'lavfi',
      '-i',
      'anoisesrc=d=2:r=48000:a=0.5:s=3',
      ...video,
      '-c:a',
      'pcm_s24le',
    );
    const deliverables = proxies.deliverables.map((one): Deliverable => ({
      ...one,
      wrapper: 'mp4',
      sound: { codec: 'aac', sampleRate: 48_000 },
    }));
    const plan = unwrap(planLeg(clip, { ...proxies, deliverables }));
    const result = await runLeg(plan, {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'noise' },
      owner: 'test.noise',
      whole: 'X',
      recorded: async () => null,
      record: async () => undefined,
    });
    expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
    expect(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'sound level')?.planned).toBe(
      'within 0.5 dB below 10 kHz',
    );
  });

  it.each([6, 8])(
    'of %i channels keeps each in its place, though decoders have no name for its layout',
    async (count) => {
      const voices = Array.from({ length: count }, (_, n) => `0.3*sin(2*PI*${200 + 170 * n}*t)`).join('|');
      const clip = await made(
        `many-${count}.mov`,
        ...moving('25'),
        '-f',
        'lavfi',
        '-i',
        `aevalsrc=${voices}:s=48000:d=2`,
        ...video,
        '-c:a',
        'pcm_s24le',
      );
      const deliverables = proxies.deliverables.map((one): Deliverable => ({
        ...one,
        wrapper: 'mp4',
        sound: { codec: 'aac', sampleRate: 48_000 },
      }));
      const plan = unwrap(planLeg(clip, { ...proxies, deliverables }));
      const result = await runLeg(plan, {
        sourceRoot: folder,
        outRoot: { root: folder, folder: `many-${count}` },
        owner: `test.many${count}`,
        whole: 'X',
        recorded: async () => null,
        record: async () => undefined,
      });
      expect([result.state, result.outputs[0]?.proof?.reasons ?? result.problem]).toEqual(['proved', []]);
      expect(result.outputs[0]?.proof?.comparisons.find(({ name }) => name === 'channels by track')?.found).toBe(
        String(count),
      );
    },
  );
});
