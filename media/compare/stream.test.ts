import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { describeFile } from '../describe/describe.ts';
import { ffmpeg, ffprobe, inputArguments } from '../process/ffmpeg.ts';
import { runOwn as run } from '../process/run.ts';
import { originalSide, type Side } from './side.ts';
import { playPair } from './stream.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-stream-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

it('sound that begins late or ends early is silence there, since a browser stops where a stream has no sound', async () => {
  const path = join(folder, 'some.mov');
  const painted = await run(ffmpeg, [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=3'],
    ...['-itsoffset', '1', '-f', 'lavfi', '-i', 'sine=f=440:r=48000:d=1'],
    ...['-map', '0', '-map', '1', '-c:v', 'libx264', '-preset', 'ultrafast', '-c:a', 'pcm_s16le', path],
  ]);
  expect(painted.code).toBe(0);
  const clip = (await describeFile(path, 'some.mov')) as ClipDescription;
  const proxy = unwrap(planLeg(clip, finishAndCut)).outputs.find(({ role }) => role === 'proxy');
  const side = proxy && originalSide({ clip, input: inputArguments(path), hands: [] }, proxy);
  if (!proxy || !side) throw new Error('no side');
  const { rate, frames } = proxy.video;
  const pair: Record<'first' | 'second', Side> = { first: side, second: side };
  const chunks: Buffer[] = [];
  await playPair(
    { ...pair, rate, frames },
    { from: 0, to: 75, every: 1, sound: { of: 'first', channel: null } },
    (chunk) => void chunks.push(chunk),
    new AbortController().signal,
  );
  const stream = join(folder, 'played.mp4');
  await writeFile(stream, Buffer.concat(chunks));
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
