import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { expect, it } from 'vitest';
import { call, ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { describeFile } from '../describe/describe.ts';
import { lookAtSound } from './sound.ts';

it("loudness and true peak of every channel are those of FFmpeg's ebur128", async () => {
  const path = join(await scratchFolder(), 'voices.wav');
  // Three voices of their own: a tone that comes and goes, noise that swells, a sweep with quiet between.
  await ffmpegMakes(
    '-f',
    'lavfi',
    '-i',
    'aevalsrc=0.4*sin(2*PI*300*t)*gt(mod(t\\,5)\\,2)|0.2*(2*random(0)-1)*t/20|0.7*sin(2*PI*(200+150*t)*t)*(0.02+gt(mod(t\\,7)\\,4)):s=48000:d=20',
    '-c:a',
    'pcm_s24le',
    path,
  );
  const clip = (await describeFile(path, 'voices.wav')) as ClipDescription;
  const { channels } = await lookAtSound([path], clip.audio);
  expect(channels).toHaveLength(3);
  for (const [index, ours] of channels.entries()) {
    const { stderr } = await call('ffmpeg', [
      '-hide_banner',
      '-nostats',
      '-i',
      path,
      '-af',
      `pan=mono|c0=c${index},ebur128=peak=true`,
      '-f',
      'null',
      '-',
    ]);
    const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
    const [loudness, peak] = [/I:\s+(-?[\d.]+) LUFS/, /Peak:\s+(-?[\d.]+) dBFS/].map((pattern) =>
      Number(pattern.exec(summary)?.[1]),
    );
    // It prints tenths.
    expect(Math.abs((ours.loudness as number) - (loudness as number)), `channel ${index + 1}`).toBeLessThan(0.11);
    expect(Math.abs(20 * Math.log10(ours.truePeak as number) - (peak as number))).toBeLessThan(0.4);
  }
});
