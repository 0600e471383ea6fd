import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { inLanes } from '@relay/work/lanes';

/** A day of short clips of one camera: how many, how large, how long. */
export interface ShortDay {
  name: string;
  clips: number;
  raster: string;
  seconds: number;
  /** What ours may take of the tuned script and its decode together. */
  aim: number;
}

export const shortDays: readonly ShortDay[] = [
  { name: '20 HD clips of 2 s', clips: 20, raster: '1920x1080', seconds: 2, aim: 1.1 },
  { name: '200 clips of 1 s, 1280 × 720', clips: 200, raster: '1280x720', seconds: 1, aim: 1.25 },
  { name: '3 HD clips of 20 s', clips: 3, raster: '1920x1080', seconds: 20, aim: 1.05 },
];

/**
 * Paints a day: 8-bit H.264 of 25 pictures a second with light noise, as phones and drones write it, each clip of
 * another content, and two channels of sound.
 */
export async function paintDay({ clips, raster, seconds }: ShortDay, folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  await inLanes(
    Array.from({ length: clips }, (_, index) => index),
    2,
    async (index) => {
      const scene = [
        `testsrc2=s=${raster}:r=25:d=${seconds},hue=h=${index * 37}`,
        `smptehdbars=s=${raster}:r=25:d=${seconds},rotate=a=t/${3 + (index % 7)}`,
        `gradients=s=${raster}:r=25:d=${seconds}:n=6:seed=${index + 1}`,
      ][index % 3] as string;
      const made = await runOwn(ffmpeg, [
        ...['-v', 'error', '-y', '-f', 'lavfi', '-i', scene],
        ...['-f', 'lavfi', '-i', `sine=f=${220 + index}:r=48000:d=${seconds}`],
        ...['-vf', `noise=alls=6:allf=t:all_seed=${index},format=yuv420p`],
        ...['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '18', '-g', '12'],
        ...['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'],
        ...['-c:a', 'pcm_s16le', '-ac', '2', '-timecode', `10:${String(index % 60).padStart(2, '0')}:00:00`],
        join(folder, `D001C${String(index + 1).padStart(3, '0')}.mov`),
      ]);
      if (made.code !== 0) throw new Error(made.stderr);
    },
  );
}
