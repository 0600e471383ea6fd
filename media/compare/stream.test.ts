import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { describeFile } from '../describe/describe.ts';
import { ffmpeg, ffprobe, inputArguments } from '../process/ffmpeg.ts';
import { runOwn as run } from '../process/run.ts';
import { ffmpegMakes } from '../../testing/commands.ts';
import { originalSide } from './side.ts';
import { playPair, playPairBack, type Pair, type Played } from './stream.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-stream-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** A clip as a proxy of it is seen beside it, the clip itself in the proxy's place. */
async function besideItself(path: string): Promise<Pair> {
  const clip = (await describeFile(path, basename(path))) as ClipDescription;
  const proxy = unwrap(planLeg(clip, finishAndCut)).outputs.find(({ role }) => role === 'proxy');
  const side = proxy && originalSide({ clip, input: inputArguments(path), hands: [] }, proxy);
  if (!proxy || !side) throw new Error('no side');
  const { rate, frames } = proxy.video;
  return { first: side, second: side, rate, frames };
}

/** Where a stream of both lies once it was made to its end. */
async function streamed(pair: Pair, what: Played, play = playPair): Promise<string> {
  const chunks: Buffer[] = [];
  await play(pair, what, (chunk) => void chunks.push(chunk), new AbortController().signal);
  const stream = join(folder, 'played.mp4');
  await writeFile(stream, Buffer.concat(chunks));
  return stream;
}

it.each([
  ['forwards', playPair, { from: 0, to: 1 }],
  ['backwards', playPairBack, { from: 0, to: -1 }],
] as const)('a clip of one frame is one picture, %s', async (_, play, between) => {
  const path = join(folder, 'one.mov');
  await ffmpegMakes(
    ...[
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=320x180:r=25',
      '-frames:v',
      '1',
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      path,
    ],
  );
  const pair = await besideItself(path);
  expect(pair.frames).toBe(1);
  const stream = await streamed(pair, { ...between, every: 1, sound: null }, play);
  const counted = await run(ffprobe, [
    ...[
      '-v',
      'error',
      '-count_frames',
      '-show_entries',
      'stream=nb_read_frames,width,height',
      '-of',
      'csv=p=0',
      stream,
    ],
  ]);
  expect(counted.stdout.trim()).toBe('320,360,1');
});

it.each([
  ['all in one track', 1],
  ['each in its own', 16],
] as const)('of 16 channels, %s, any is heard alone', async (_, tracks) => {
  const path = join(folder, `sixteen-${tracks}.mov`);
  const tones = Array.from({ length: 16 }, (__, channel) => `sin(2*PI*${200 + 100 * channel}*t)/4`);
  const inputs = tracks === 1 ? [tones.join('|')] : tones;
  await ffmpegMakes(
    ...['-f', 'lavfi', '-i', 'color=s=64x36:r=25:d=1'],
    ...inputs.flatMap((tone) => ['-f', 'lavfi', '-i', `aevalsrc=exprs=${tone}:s=48000:d=1`]),
    ...['-map', '0:v', ...inputs.flatMap((__, index) => ['-map', `${index + 1}:a`])],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-c:a', 'pcm_s16le', path],
  );
  const pair = await besideItself(path);
  for (const channel of [0, 8, 15]) {
    const stream = await streamed(pair, { from: 0, to: 25, every: 1, sound: { of: 'second', channel } });
    const raw = join(folder, 'heard.raw');
    await ffmpegMakes(...['-i', stream, '-ss', '0.25', '-t', '0.5', '-ac', '1', '-f', 's16le', raw]);
    const bytes = await readFile(raw);
    const samples = new Int16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
    let crossings = 0;
    for (let at = 1; at < samples.length; at += 1)
      if ((samples[at] as number) >= 0 !== (samples[at - 1] as number) >= 0) crossings += 1;
    // A tone crosses zero twice a period.
    expect(Math.abs(crossings - (200 + 100 * channel)), `channel ${channel}`).toBeLessThanOrEqual(4);
  }
});

it('sound that begins late or ends early is silence there, since a browser stops where a stream has no sound', async () => {
  const path = join(folder, 'some.mov');
  await ffmpegMakes(
    ...['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=3'],
    ...['-itsoffset', '1', '-f', 'lavfi', '-i', 'sine=f=440:r=48000:d=1'],
    ...['-map', '0', '-map', '1', '-c:v', 'libx264', '-preset', 'ultrafast', '-c:a', 'pcm_s16le', path],
  );
  const stream = await streamed(await besideItself(path), {
    ...{ from: 0, to: 75, every: 1, sound: { of: 'first', channel: null } },
  });
  const heard = await run(ffmpeg, [
    ...['-v', 'info', '-i', stream, '-map', '0:a', '-af', 'silencedetect=n=-60dB:d=0.5', '-f', 'null', '-'],
  ]);
  expect(Number(/silence_end: ([\d.]+)/.exec(heard.stderr)?.[1])).toBeCloseTo(1, 1);
  const packets = await run(ffprobe, [
    ...['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', stream],
  ]);
  const at = packets.stdout.trim().split('\n').map(parseFloat);
  expect(at[0]).toBeLessThan(0.03);
  expect(at.at(-1)).toBeGreaterThan(2.9);
  expect(Math.max(...at.slice(1).map((time, index) => time - (at[index] as number)))).toBeLessThan(0.03);
});
