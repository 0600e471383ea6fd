import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { joinChapters } from '@relay/core/clip/chapters';
import type { ClipDescription } from '@relay/core/clip/description';
import { partOfClip } from '@relay/core/clip/part';
import { unwrap } from '@relay/core/result';
import { toNumber } from '@relay/core/time/rational';
import { describe, expect, it } from 'vitest';
import { ffmpegMakes, scratchFolder } from '../../testing/commands.ts';

import { describeFile } from '../describe/describe.ts';
import { frameTimes } from '../look/packets.ts';
import { ffmpeg } from './ffmpeg.ts';
import { chapterInput, withInput, type Source } from './joined.ts';
import { run, runOwn } from './run.ts';

/** Checksums of every picture that an opened source gives: FFmpeg's `framemd5`. */
async function picturesOf(source: Source): Promise<string[]> {
  return withInput(source, async (input, hands) => {
    const args = ['-v', 'error', ...input, '-map', '0:v:0', '-fps_mode', 'passthrough', '-f', 'framemd5', 'pipe:1'];
    const { stdout, code, stderr } = await run(ffmpeg, args, { hands, timeoutMs: 60_000 });
    expect(code, stderr).toBe(0);
    return stdout.split('\n').flatMap((line) => (/^\d/.test(line) ? [line.split(',').at(-1)?.trim() ?? ''] : []));
  });
}

/** Samples of the first channel of what `map` gives of an opened source, through `filter`. */
async function samplesOf(source: Source, map: string, filter: string): Promise<Int16Array> {
  const folder = await scratchFolder();
  await withInput(
    source,
    async (input) => {
      const args = ['-v', 'error', '-y', ...input, '-map', map, '-af', filter, '-ac', '1', '-f', 's16le'];
      const { code, stderr } = await runOwn(ffmpeg, [...args, join(folder, 'samples')]);
      expect(code, stderr).toBe(0);
    },
    { sound: true },
  );
  const bytes = await readFile(join(folder, 'samples'));
  return new Int16Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + (bytes.length & ~1)));
}

/** A pattern in which no two frames are alike, beside noise in which no two samples are. */
const material = (seconds: number, rate: string): string[] => [
  ...['-f', 'lavfi', '-i', `testsrc2=size=320x180:rate=${rate}:duration=${seconds},format=yuv420p,noise=alls=3`],
  ...['-f', 'lavfi', '-i', `anoisesrc=sample_rate=48000:duration=${seconds}:seed=7:amplitude=0.5`],
];
const longGop = ['-c:v', 'libx264', '-preset', 'veryfast', '-g', '40', '-bf', '3'];

/** Wrappers and codecs as cameras write them: what decodes from anywhere, and what needs the pictures around it. */
const kinds: Readonly<Record<string, { rate: string; args: string[]; ending: string }>> = {
  'each picture by itself in MOV': { rate: '25', ending: 'mov', args: ['-c:v', 'prores_ks', '-c:a', 'pcm_s16le'] },
  'closed groups in MOV': { rate: '24000/1001', ending: 'mov', args: [...longGop, '-c:a', 'pcm_s16le'] },
  'open groups in MP4': {
    rate: '25',
    ending: 'mp4',
    args: [...longGop, '-x264-params', 'open-gop=1', '-c:a', 'aac'],
  },
  'open groups of HEVC in MOV': {
    rate: '50',
    ending: 'mov',
    args: [
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-x265-params',
      'open-gop=1:keyint=40:log-level=none',
      '-c:a',
      'pcm_s16le',
    ],
  },
  'groups of MPEG-2 in MXF': {
    rate: '30000/1001',
    ending: 'mxf',
    args: ['-c:v', 'mpeg2video', '-g', '15', '-bf', '2', '-q:v', '3', '-c:a', 'pcm_s16le'],
  },
  'groups of MPEG-2 in a transport stream': {
    rate: '25',
    ending: 'ts',
    args: ['-c:v', 'mpeg2video', '-g', '15', '-bf', '2', '-q:v', '3', '-c:a', 'mp2', '-b:a', '384k'],
  },
  'groups of H.264 in a transport stream': { rate: '50', ending: 'ts', args: [...longGop, '-c:a', 'aac'] },
  'an edit list that begins later': {
    rate: '25',
    ending: 'mov',
    args: [...longGop, '-c:a', 'pcm_s16le', '-metadata', 'comment=late'],
  },
  'groups in Matroska': { rate: '24', ending: 'mkv', args: [...longGop, '-c:a', 'pcm_s16le'] },
};

async function made(kind: string, folder: string): Promise<ClipDescription> {
  const { rate, args, ending } = kinds[kind] as (typeof kinds)[string];
  const name = `clip.${ending}`;
  if (kind.startsWith('an edit list')) {
    await ffmpegMakes(...material(6, rate), ...args, '-shortest', join(folder, 'whole.mov'));
    // Cut without being coded again, it begins in the middle of a group: an edit list leaves out what comes before.
    await ffmpegMakes('-ss', '1.04', '-i', join(folder, 'whole.mov'), '-c', 'copy', join(folder, name));
  } else await ffmpegMakes(...material(6, rate), ...args, '-shortest', join(folder, name));
  return (await describeFile(join(folder, name), name)) as ClipDescription;
}

describe('a part of a clip', () => {
  it.each(Object.keys(kinds))('of %s is just its frames, and its sound to the sample', async (kind) => {
    const folder = await scratchFolder();
    const clip = await made(kind, folder);
    const paths = [join(folder, clip.path)];
    const whole = await picturesOf({ clip, paths });
    expect(whole).toHaveLength(clip.video?.frames ?? 0);
    expect(new Set(whole).size).toBe(whole.length);
    const start = toNumber(clip.video?.start ?? { num: 0, den: 1 });
    const all = await samplesOf(
      { clip, paths },
      '0:a:0',
      `asetpts=PTS-${start.toFixed(9)}/TB,aresample=48000:async=1:first_pts=0`,
    );
    const rate = toNumber(clip.video?.rate ?? { num: 25, den: 1 });
    const end = whole.length;
    for (const [from, to] of [
      [0, 30],
      [1, 2],
      [39, 44],
      [40, 60],
      [58, 90],
      [end - 20, end],
    ] as const) {
      const part = unwrap(partOfClip(clip, { from, to }));
      const source = { clip: part, paths };
      expect(await picturesOf(source), `${from} to ${to}`).toEqual(whole.slice(from, to));
      const samples = Math.round(((to - from) * 48_000) / rate);
      const heard = await samplesOf(
        source,
        `${chapterInput(0)}:a:0`,
        `aresample=48000:async=1:first_pts=0,atrim=end_sample=${samples}`,
      );
      expect(offBy(heard, all, Math.round((from * 48_000) / rate)), `${from} to ${to}`).toBeLessThanOrEqual(
        looser(kind),
      );
    }
  });
});

/** Matroska keeps times in thousandths of a second: 24 samples of them are rounding. */
const looser = (kind: string): number => (kind.includes('Matroska') ? 48 : 1);

/** By how many samples a stretch lies beside where it should, found by where it is most like. */
function offBy(heard: Int16Array, all: Int16Array, at: number): number {
  const length = Math.min(heard.length, 6_000);
  let [best, least] = [NaN, Infinity];
  for (let off = -1_200; off <= 1_200; off += 1) {
    if (at + off < 0) continue;
    let sum = 0;
    // Not the beginning, where a codec may still be settling.
    for (let i = Math.min(1_000, length >> 1); i < length && sum < least; i += 7)
      sum += Math.abs((heard[i] ?? 0) - (all[at + off + i] ?? 0));
    if (sum < least) [best, least] = [off, sum];
  }
  return Math.abs(best);
}

it('of a clip in chapters goes over their joints, and opens only those that it lies in', async () => {
  const folder = await scratchFolder();
  const names = [1, 2, 3].map((n) => `CHAP_0${n}.mp4`);
  for (const [index, name] of names.entries())
    await ffmpegMakes(
      ...[
        '-f',
        'lavfi',
        '-i',
        `testsrc2=size=320x180:rate=25:duration=2,format=yuv420p,noise=alls=3:all_seed=${index + 1}`,
      ],
      ...['-f', 'lavfi', '-i', `anoisesrc=sample_rate=48000:duration=2:seed=${index + 1}:amplitude=0.5`],
      ...[...longGop, '-c:a', 'aac', '-shortest', join(folder, name)],
    );
  const files = await Promise.all(
    names.map(async (name) => (await describeFile(join(folder, name), name)) as ClipDescription),
  );
  const [clip] = joinChapters(files) as [ClipDescription];
  expect(clip.chapters).toHaveLength(3);
  const pathsOf = ({ chapters }: ClipDescription): string[] => chapters.map(({ path }) => join(folder, path));
  const whole = await picturesOf({ clip, paths: pathsOf(clip) });
  expect(whole).toHaveLength(150);
  for (const [from, to, opened] of [
    [10, 20, 1],
    [45, 55, 2],
    [60, 75, 1],
    [99, 101, 2],
    [110, 150, 1],
    [30, 120, 3],
  ] as const) {
    const part = unwrap(partOfClip(clip, { from, to }));
    expect(part.chapters).toHaveLength(opened);
    expect(await picturesOf({ clip: part, paths: pathsOf(part) }), `${from} to ${to}`).toEqual(whole.slice(from, to));
  }
});

it('of a clip whose rate varies goes by the time of each picture', async () => {
  const folder = await scratchFolder();
  const path = join(folder, 'varies.mp4');
  // Every fifth picture is left out, and some of the others.
  await ffmpegMakes(
    ...[
      '-f',
      'lavfi',
      '-i',
      "testsrc2=size=320x180:rate=30:duration=6,format=yuv420p,noise=alls=3,select='mod(n,5)*mod(n,7)'",
    ],
    ...['-fps_mode', 'vfr', ...longGop, path],
  );
  const clip = (await describeFile(path, 'varies.mp4')) as ClipDescription;
  expect(clip.video?.rateConstant).toBe(false);
  const times = await frameTimes([path], []);
  const whole = await picturesOf({ clip, paths: [path] });
  const end = whole.length;
  for (const [from, to] of [
    [0, 7],
    [3, 4],
    [39, 61],
    [end - 9, end],
  ] as const) {
    const part = unwrap(partOfClip(clip, { from, to }, times));
    expect(await picturesOf({ clip: part, paths: [path] }), `${from} to ${to}`).toEqual(whole.slice(from, to));
  }
});
