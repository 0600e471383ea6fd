import { appendFile, copyFile, mkdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { ALL_FORMATS, BufferSource, Input } from 'mediabunny';
import { createFile, MP4BoxBuffer } from 'mp4box';
import { beforeAll, describe, expect, it } from 'vitest';
import type { RunResult } from '@relay/contract/run';
import { isRefusal } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { readStrip } from '@relay/demo/scene/slate';
import { describeFile } from '@relay/media/describe/describe';
import { runLeg } from './leg.ts';
import { spawnSync } from 'node:child_process';
import { call, ffmpegMakes, quickH264, relay, scratchFolder } from '../../testing/commands.ts';
import { built, demoCards, saltLantern } from '../../testing/demo.ts';

/** Frame numbers read back from the slate's strip in every decoded frame of a file. */
function stripNumbers(path: string, width: number, height: number): number[] {
  const decoded = spawnSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      path,
      '-map',
      '0:v:0',
      '-vsync',
      'passthrough',
      '-vf',
      `scale=${width}:${height}`,
      '-pix_fmt',
      'gray',
      '-f',
      'rawvideo',
      '-',
    ],
    { maxBuffer: 1 << 30 },
  );
  const size = width * height;
  return Array.from({ length: decoded.stdout.length / size }, (_, frame) =>
    readStrip(decoded.stdout.subarray(frame * size, (frame + 1) * size), width, height, 16 / 9),
  );
}

let out: string;
let results: RunResult[];
const of = (path: string): RunResult => results.find((result) => result.original === path) as RunResult;

beforeAll(async () => {
  const folder = await scratchFolder();
  out = join(folder, 'out');
  const corrections = join(folder, 'corrections.json');
  await writeFile(
    corrections,
    JSON.stringify({
      version: 1,
      rules: [{ when: { path: 'day-1/C001/C001C011.mov' }, change: { shape: { squeeze: { num: 4, den: 3 } } } }],
    }),
  );
  const spoken = await relay('run', '--source', saltLantern, '--out', out, '--corrections', corrections, '--json');
  expect(spoken.code).toBe(1); // One is cut short, one is a text.
  results = JSON.parse(spoken.stdout) as RunResult[];
});

describe('a run over the demo originals', () => {
  it('proves every whole clip, asks for eyes on the one cut short, and names the one that is no clip', () => {
    expect(
      results.map((result) => [result.original.slice(result.original.lastIndexOf('/') + 1), result.state]),
    ).toEqual([
      ['A001C003.mov', 'proved'],
      ['A001C004.mov', 'proved'],
      ['B001C001.mp4', 'proved'],
      ['C001C011.mov', 'proved'],
      ['C001C012.mov', 'proved'],
      ['S009C001.mov', 'proved'],
      ['C0001.MXF', 'proved'],
      ['C0001.MXF', 'proved'],
      ['F001_r1.mov', 'proved'],
      ['P000_0007.mp4', 'proved'],
      ['P000_0008.mp4', 'needs eyes'],
      ['shot-list.mov', 'failed'],
      ['T001C001.ts', 'proved'],
    ]);
    expect(of('day-2/P000/P000_0008.mp4').problem?.what).toContain('20 of 45 frames are missing');
  });

  it('is read the same by mediabunny: raster, duration, tracks and channels (no FFmpeg)', async () => {
    const input = new Input({
      formats: ALL_FORMATS,
      source: new BufferSource(await readFile(join(out, 'proxy/day-1/A001/A001C003.mov'))),
    });
    const video = await input.getPrimaryVideoTrack();
    expect([video?.codec, video?.displayWidth, video?.displayHeight]).toEqual(['avc', 960, 540]);
    expect((await video?.computePacketStats())?.packetCount).toBe(72);
    expect(await video?.computeDuration()).toBeCloseTo((72 * 1001) / 24000, 6);
    const sound = await input.getAudioTracks();
    expect(sound.map((track) => [track.numberOfChannels, track.sampleRate])).toEqual(
      Array.from({ length: 6 }, () => [1, 48_000]),
    );
    for (const track of sound) expect(await track.getFirstTimestamp()).toBe(0);
  });

  it('is read the same by mp4box: sample counts, sound tracks, timecode track (no FFmpeg)', async () => {
    const file = createFile();
    const bytes = await readFile(join(out, 'intermediate/day-1/A001/A001C003.mov'));
    file.appendBuffer(MP4BoxBuffer.fromArrayBuffer(new Uint8Array(bytes).buffer, 0));
    file.flush();
    const tracks = file.getInfo().tracks;
    const video = tracks.find((track) => track.codec.startsWith('apch'));
    expect(video).toMatchObject({
      nb_samples: 72,
      timescale: 24000,
      duration: 72 * 1001,
      track_width: 1920,
      track_height: 1080,
    });
    // Sound is as long as the picture, to the sample: 72 frames are 144,144 samples at 48 kHz.
    expect(tracks.filter((track) => track.codec === 'in24').map((track) => track.nb_samples)).toEqual(
      Array.from({ length: 6 }, () => 144_144),
    );
    expect(tracks.some((track) => track.codec === 'tmcd')).toBe(true);
  });

  it('holds every frame once and in order, by the numbers painted in the pictures', () => {
    expect(stripNumbers(join(out, 'proxy/day-1/A001/A001C003.mov'), 960, 540)).toEqual(
      Array.from({ length: 72 }, (_, n) => n),
    );
    expect(stripNumbers(join(out, 'proxy/day-1/S009/S009C001.mov'), 960, 540)).toEqual(
      Array.from({ length: 120 }, (_, n) => n),
    );
    expect(stripNumbers(join(out, 'intermediate/day-2/D004/ESSENCE/UNIT01/C0001.mov'), 1920, 1080)).toEqual(
      Array.from({ length: 38 }, (_, n) => n),
    );
    // The lens squeeze is undone: the strip is where it is in a picture of true shape.
    expect(stripNumbers(join(out, 'proxy/day-1/C001/C001C011.mov'), 960, 540)).toEqual(
      Array.from({ length: 48 }, (_, n) => n),
    );
    // A varying rate: frames are dropped or repeated, never out of order.
    const phone = stripNumbers(join(out, 'proxy/day-2/P000/P000_0007.mov'), 960, 540);
    expect([...phone].sort((a, b) => a - b)).toEqual(phone);
  });

  it('keeps each channel in its place: only tracks 2 and 5 carry sound', async () => {
    for (const deliverable of ['intermediate', 'proxy']) {
      const loud: boolean[] = [];
      for (let track = 0; track < 6; track += 1) {
        const { stderr } = await call('ffmpeg', [
          '-i',
          join(out, deliverable, 'day-1/A001/A001C003.mov'),
          '-map',
          `0:a:${track}`,
          '-af',
          'volumedetect',
          '-f',
          'null',
          '-',
        ]);
        loud.push(Number(/max_volume: (-?[\d.]+) dB/.exec(stderr)?.[1] ?? -99) > -50);
      }
      expect(loud).toEqual([false, true, false, false, true, false]);
    }
  });

  it("keeps sound in step to under a millisecond, from PCM, AAC and MP2, whatever the wrapper's clock began with", () => {
    // The bell on the right channel strikes on each whole second.
    for (const path of [
      'day-1/B001/B001C001.mov',
      'day-2/T001/T001C001.mov',
      'day-2/P000/P000_0007.mov',
      'day-1/S009/S009C001.mov',
    ]) {
      const decoded = spawnSync(
        'ffmpeg',
        ['-v', 'error', '-i', join(out, 'proxy', path), '-map', '0:a:0', '-af', 'pan=mono|c0=c1', '-f', 's16le', '-'],
        { maxBuffer: 1 << 28 },
      ).stdout;
      let strike = 24_000;
      while (strike < decoded.length / 2 && Math.abs(decoded.readInt16LE(strike * 2)) < 1600) strike += 1;
      expect([path, Math.abs(strike / 48_000 - 1) < 0.001]).toEqual([path, true]);
    }
  });

  it('writes a relink sheet whose checksums xxhsum confirms', async () => {
    const sheet = JSON.parse(await readFile(join(out, 'relink.json'), 'utf8')) as {
      version: number;
      rows: { output: string; outputXxh3: string; original: string; originalXxh3: string; state: string }[];
    };
    expect(sheet.rows).toHaveLength(24);
    const row = sheet.rows.find((one) => one.output === 'proxy/day-1/A001/A001C003.mov');
    const { stdout } = await call('xxhsum', [
      '-H3',
      join(out, row?.output ?? ''),
      join(saltLantern, row?.original ?? ''),
    ]);
    expect(stdout).toContain(row?.outputXxh3);
    expect(stdout).toContain(row?.originalXxh3);
    expect((await readFile(join(out, 'relink.csv'), 'utf8')).trim().split('\r\n')).toHaveLength(25);
  });

  it("run again: proves and keeps what it recorded, makes only what is missing, never replaces a stranger's file", async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'source');
    const again = join(folder, 'out');
    await mkdir(join(source, 'A001'), { recursive: true });
    await mkdir(join(again, 'proxy/A001'), { recursive: true });
    await symlink(join(saltLantern, 'day-1/S009/S009C001.mov'), join(folder, 'link.mov'));
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25:d=1',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      join(source, 'A001/one.mov'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25:d=1',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      join(source, 'A001/two.mov'),
    );
    await writeFile(join(again, 'proxy/A001/two.mov'), "somebody's own file");
    const first = await relay('run', '--source', source, '--out', again, '--json');
    expect(first.code).toBe(1);
    expect(JSON.parse(first.stdout)).toMatchObject([
      { state: 'proved' },
      { state: 'failed', outputs: [{ state: 'proved' }, { state: 'failed' }] },
    ]);
    expect(await readFile(join(again, 'proxy/A001/two.mov'), 'utf8')).toBe("somebody's own file");
    const second = JSON.parse((await relay('run', '--source', source, '--out', again, '--json')).stdout) as RunResult[];
    expect(second[0]?.outputs.map((output) => output.alreadyThere)).toEqual([true, true]);
    // A kept output that was changed since is no longer ours to vouch for.
    await writeFile(join(again, 'proxy/A001/one.mov'), 'changed');
    expect(
      (JSON.parse((await relay('run', '--source', source, '--out', again, '--json')).stdout) as RunResult[])[0]?.state,
    ).toBe('failed');
    const { stdout } = await call('find', [dirname(again), '-name', '.relay-part-*']);
    expect(stdout).toBe('');
  });
});

describe('awkward originals', () => {
  it('keep alpha-less colour tags absent, odd rasters even, single frames whole, 5.1 in order and sound in sync', async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'in');
    await mkdir(source);
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=641x359:r=30000/1001:d=1',
      '-c:v',
      'ffv1',
      '-pix_fmt',
      'yuv444p',
      join(source, 'odd.mkv'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=25',
      '-frames:v',
      '1',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      join(source, 'single.mov'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=25:d=2',
      '-f',
      'lavfi',
      '-i',
      'sine=d=2:r=48000',
      '-filter_complex',
      '[1]pan=5.1|c0=0*c0|c1=0*c0|c2=0*c0|c3=c0|c4=0*c0|c5=0*c0[a]',
      '-map',
      '0:v',
      '-map',
      '[a]',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      '-c:a',
      'pcm_s16le',
      join(source, 'surround.mov'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=120000/1001:d=0.5',
      '-r',
      '120000/1001',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      '-timecode',
      '01:00:00;00',
      join(source, 'fast.mov'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=25:d=2',
      '-f',
      'lavfi',
      '-itsoffset',
      '0.5',
      '-i',
      'sine=d=1:r=44100',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      '-c:a',
      'aac',
      join(source, 'late-sound.mp4'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=25:d=1',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      '-metadata:s:v',
      'rotate=90',
      join(source, 'upright.mp4'),
    );
    const spoken = await relay('run', '--source', source, '--out', join(folder, 'out'), '--json');
    const all = JSON.parse(spoken.stdout) as RunResult[];
    expect(all.map((result) => [result.original, result.state, result.problem])).toEqual(
      all.map((result) => [result.original, 'proved', null]),
    );
    expect(spoken.code).toBe(0);
    const found = (path: string, name: string): string | undefined =>
      all
        .flatMap((result) => result.outputs)
        .find((output) => output.path === path)
        ?.proof?.comparisons.find((c) => c.name === name)?.found;
    expect(found('intermediate/odd.mov', 'transfer')).toBe('none');
    expect(Number(found('intermediate/odd.mov', 'raster')?.split('×')[0]) % 2).toBe(0);
    expect(found('proxy/single.mov', 'frames')).toBe('1');
    expect(found('proxy/surround.mov', 'channels by track')).toBe('6');
    expect(found('proxy/fast.mov', 'rate')).toBe('119.88');
    expect(found('proxy/fast.mov', 'start timecode')).toMatch(/^01:00:00;0+$/);
    const lfe = await call('ffmpeg', [
      '-i',
      join(folder, 'out/proxy/surround.mov'),
      '-filter_complex',
      '[0:a]channelsplit=channel_layout=5.1:channels=LFE,volumedetect',
      '-f',
      'null',
      '-',
    ]);
    expect(Number(/max_volume: (-?[\d.]+)/.exec(lfe.stderr)?.[1])).toBeGreaterThan(-30);
    const silence = await call('ffmpeg', [
      '-i',
      join(folder, 'out/proxy/late-sound.mov'),
      '-af',
      'silencedetect=n=-50dB:d=0.2',
      '-f',
      'null',
      '-',
    ]);
    expect(Number(/silence_end: ([\d.]+)/.exec(silence.stderr)?.[1])).toBeCloseTo(0.5, 1);
  });
});

describe('a clip in chapters', () => {
  it('is made as one: every picture of every file in order, sound to the sample, one line in the relink sheet', async () => {
    const folder = await scratchFolder();
    const { code, stdout } = await relay('run', '--source', join(demoCards, 'card-V-1'), '--out', folder, '--json');
    const made = JSON.parse(stdout) as RunResult[];
    expect([code, made.map((result) => [result.original, result.state])]).toEqual([
      0,
      [['VIDEO/V0034_01.mp4', 'proved']],
    ]);
    const count = (length: number): number[] => Array.from({ length }, (_, n) => n);
    for (const output of ['intermediate', 'proxy']) {
      expect(stripNumbers(join(folder, output, 'VIDEO/V0034_01.mov'), 960, 540)).toEqual([
        ...count(30),
        ...count(30),
        ...count(20),
      ]);
    }
    const samples = made[0]?.outputs[0]?.proof?.comparisons.filter((comparison) => /sound/.test(comparison.name));
    expect(samples?.every((comparison) => comparison.holds)).toBe(true);
    const sheet = JSON.parse(await readFile(join(folder, 'relink.json'), 'utf8')) as {
      rows: { originalXxh3: string }[];
    };
    const joined = spawnSync('bash', [
      '-c',
      'cat "$@" | xxhsum -H3 -',
      'bash',
      ...['01', '02', '03'].map((part) => join(demoCards, `card-V-1/VIDEO/V0034_${part}.mp4`)),
    ]).stdout.toString();
    expect(joined).toContain(sheet.rows[0]?.originalXxh3);
  });
});

describe('when writing fails half-way', () => {
  it('says so for that clip, leaves nothing half-made, and goes on with the rest', async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'in');
    await mkdir(source);
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25:d=0.2',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      join(source, 'small.mov'),
    );
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'mandelbrot=s=1280x720:r=25',
      '-t',
      '3',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      join(source, 'large.mov'),
    );
    // No file may grow beyond 3 MB: for FFmpeg that is a disk that ends.
    const spoken = await call('prlimit', [
      '--fsize=3000000',
      process.execPath,
      built,
      'run',
      '--source',
      source,
      '--out',
      join(folder, 'out'),
      '--json',
    ]);
    expect(spoken.code).toBe(1);
    const [large, small] = JSON.parse(spoken.stdout) as [RunResult, RunResult];
    expect([large.state, small.state]).toEqual(['failed', 'proved']);
    expect(large.problem?.what).toContain('large.mov could not be converted');
    const left = (await call('find', [join(folder, 'out'), '-type', 'f', '-printf', '%P\\n'])).stdout
      .trim()
      .split('\n')
      .sort();
    expect(left).toEqual(['intermediate/small.mov', 'proxy/small.mov', 'relink.csv', 'relink.json']);
  });

  it('asks for eyes on a damaged original, and again when what was made of it is proved again', async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'in');
    await mkdir(source);
    const path = join(source, 'scratched.ts');
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=640x360:r=25:d=3',
      '-c:v',
      'mpeg2video',
      '-b:v',
      '6M',
      '-f',
      'mpegts',
      path,
    );
    const bytes = await readFile(path);
    for (let at = Math.floor(bytes.length * 0.45); at < bytes.length * 0.55; at += 3)
      bytes[at] = (bytes[at] as number) ^ 0x5a;
    await writeFile(path, bytes);
    for (const alreadyThere of [false, true]) {
      const spoken = await relay('run', '--source', source, '--out', join(folder, 'out'), '--json');
      expect(spoken.code).toBe(1);
      const [result] = JSON.parse(spoken.stdout) as [RunResult];
      expect([result.state, result.outputs.map((output) => output.alreadyThere)]).toEqual([
        'needs eyes',
        [alreadyThere, alreadyThere],
      ]);
      expect(result.problem?.what).toContain('does not decode cleanly');
    }
  });

  it('refuses to begin where too little space is free', async () => {
    const folder = await scratchFolder();
    const entry = await describeFile(join(saltLantern, 'day-1/S009/S009C001.mov'), 'S009C001.mov');
    if (isRefusal(entry) || !entry.video) throw new Error('the demo is not as it should be');
    // A clip of ten thousand hours: no disk has room for its intermediates.
    const long = { ...entry, video: { ...entry.video, frames: entry.video.frames * 18_000_000 } };
    const plan = unwrap(planLeg(long, finishAndCut));
    const result = await runLeg(plan, {
      sourceRoot: join(saltLantern, 'day-1/S009'),
      outRoot: folder,
      owner: 'test',
      whole: 'card',
      recorded: () => Promise.resolve(null),
      record: () => Promise.resolve(),
    });
    expect(result.problem?.what).toContain('Too little space');
    expect((await call('find', [folder, '-type', 'f'])).stdout).toBe('');
  });

  it('leaves a file that appears under the final name at the last moment as it is', async () => {
    const folder = await scratchFolder();
    const source = join(folder, 'small.mov');
    await ffmpegMakes(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25:d=0.2',
      ...quickH264,
      '-pix_fmt',
      'yuv420p',
      source,
    );
    const entry = await describeFile(source, 'small.mov');
    if (isRefusal(entry)) throw new Error(entry.problem.what);
    const outRoot = join(folder, 'out');
    const result = await runLeg(unwrap(planLeg(entry, finishAndCut)), {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'out' },
      owner: 'test',
      whole: 'card',
      recorded: () => Promise.resolve(null),
      record: (row) => writeFile(join(outRoot, row.output), "a stranger's"),
    });
    expect(result.outputs.map((output) => output.state)).toEqual(['failed', 'failed']);
    expect(await readFile(join(outRoot, 'proxy/small.mov'), 'utf8')).toBe("a stranger's");
    expect((await call('find', [outRoot, '-name', '.relay-part-*'])).stdout).toBe('');
  });

  it('notices an original that has grown since it was read, or is gone', async () => {
    const folder = await scratchFolder();
    const path = join(folder, 'clip.mov');
    await copyFile(join(saltLantern, 'day-1/S009/S009C001.mov'), path);
    const entry = await describeFile(path, 'clip.mov');
    if (isRefusal(entry)) throw new Error(entry.problem.what);
    const plan = unwrap(planLeg(entry, finishAndCut));
    const at = {
      sourceRoot: folder,
      outRoot: { root: folder, folder: 'out' },
      owner: 'test',
      whole: 'card',
      recorded: () => Promise.resolve(null),
      record: () => Promise.resolve(),
    };
    await appendFile(path, 'more of the card');
    expect((await runLeg(plan, at)).problem?.what).toContain('has changed since it was read');
    await rm(path);
    expect((await runLeg(plan, at)).problem?.what).toContain('no longer there');
  });
});
