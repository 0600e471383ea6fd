import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { describe, expect, it } from 'vitest';
import { call, ffmpegMakes, scratchFolder } from '../testing/commands.ts';
import { demoCards, saltLantern } from '../testing/demo.ts';
import { describeFile } from './describe/describe.ts';
import { playStream } from './play.ts';

async function streamed(
  path: string,
  seconds: number,
  channel: number | null,
): Promise<{ clip: ClipDescription; file: string }> {
  const clip = await describeFile(path, 'clip');
  if (isRefusal(clip)) throw new Error(clip.problem.what);
  const pieces: Buffer[] = [];
  // A reader that is slower than the stream makes it wait.
  await playStream(
    path,
    clip,
    { seconds, channel },
    (piece) => {
      pieces.push(piece);
      return new Promise((resolve) => setTimeout(resolve, 2));
    },
    new AbortController().signal,
  );
  const file = join(await scratchFolder(), 'stream.mp4');
  await writeFile(file, Buffer.concat(pieces));
  return { clip, file };
}
async function loudness(file: string): Promise<number> {
  const { stderr } = await call('ffmpeg', ['-i', file, '-af', 'volumedetect', '-vn', '-f', 'null', '-']);
  return Number(/max_volume: (-?[\d.]+) dB/.exec(stderr)?.[1] ?? -99);
}

describe('a light stream', () => {
  it('is H.264 and AAC within 960 × 540, and carries only the channel that is listened to', async () => {
    const path = join(saltLantern, 'day-1/A001/A001C003.mov');
    const all = await streamed(path, 0, null);
    const entry = await describeFile(all.file, 'stream.mp4');
    expect(entry).toMatchObject({
      video: { codecId: 'h264', raster: { width: 960, height: 540 }, frames: 72 },
      audio: [{ codecId: 'aac', channels: 2 }],
    });
    expect(await loudness((await streamed(path, 0, 1)).file)).toBeGreaterThan(-30);
    expect(await loudness((await streamed(path, 0, 2)).file)).toBeLessThan(-70);
  });

  it('begins where it is asked to, and ends when nobody wants it', async () => {
    const path = join(saltLantern, 'day-1/S009/S009C001.mov');
    const { file } = await streamed(path, 1, null);
    const entry = await describeFile(file, 'stream.mp4');
    expect(isRefusal(entry) ? 0 : entry.video?.frames).toBeGreaterThanOrEqual(59);
    expect(isRefusal(entry) ? 0 : entry.video?.frames).toBeLessThanOrEqual(61);
    const gone = new AbortController();
    const clip = await describeFile(path, 'clip');
    if (isRefusal(clip)) throw new Error(clip.problem.what);
    const from = Date.now();
    await playStream(
      path,
      clip,
      { seconds: 0, channel: null },
      () => {
        gone.abort();
        return new Promise(() => undefined);
      },
      gone.signal,
    );
    expect(Date.now() - from).toBeLessThan(9_000);
  });

  it('of sound alone, of a picture alone, of a squeezed picture and of a mono track are made too', async () => {
    expect(
      await describeFile((await streamed(join(demoCards, 'card-R-1/SOUND/S14T3.wav'), 0, 3)).file, 'x.mp4'),
    ).toMatchObject({ video: null, audio: [{ codecId: 'aac' }] });
    expect(
      await describeFile((await streamed(join(saltLantern, 'day-1/C001/C001C012.mov'), 0, null)).file, 'x.mp4'),
    ).toMatchObject({ video: { raster: { width: 960, height: 540 } } });
    const mute = join(await scratchFolder(), 'mute.mov');
    await ffmpegMakes('-f', 'lavfi', '-i', 'testsrc2=s=321x181:r=25:d=0.4', '-c:v', 'mjpeg', mute);
    expect(await describeFile((await streamed(mute, 0, null)).file, 'x.mp4')).toMatchObject({
      video: { codecId: 'h264' },
      audio: [],
    });
  });
});
