import { spawn } from 'node:child_process';
import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import type { Tuning } from '@relay/media/leg/encoders';
import { inLanes } from '@relay/work/lanes';

/** A clip as the tuned script has it: what comes of it, and the quantisers that were found for it beforehand. */
export interface TunedClip {
  plan: LegPlan;
  source: string;
  tunings: readonly Tuning[];
}

const lanes = 2;

function outputArguments({ codec, video }: OutputPlan, tuning: Tuning, target: string): string[] {
  const scale = video.steps.some(({ kind }) => kind === 'scale')
    ? [`scale=${video.raster.width}:${video.raster.height}`]
    : [];
  return [
    ...['-map', '0:v:0', '-map', '0:a?', '-dn'],
    ...(scale.length > 0 ? ['-vf', scale.join(',')] : []),
    ...(codec.id === 'prores'
      ? ['-c:v', 'prores_ks', '-profile:v', 'hq', '-q:v', String(tuning.quantiser), '-pix_fmt', 'yuv422p10le']
      : ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '21', '-g', '12', '-bf', '2', '-pix_fmt', 'yuv420p']),
    ...['-c:a', 'pcm_s24le', '-f', 'mov', target],
  ];
}

async function ffmpegEnds(args: readonly string[]): Promise<void> {
  const child = spawn('ffmpeg', args, { stdio: ['ignore', 'ignore', 'inherit'] });
  const code = await new Promise((resolve) => child.once('close', resolve));
  if (code !== 0) throw new Error(`the tuned script's ffmpeg ended with ${String(code)}`);
}

/**
 * What somebody who knows FFmpeg well writes: one command a clip for all its outputs, the encoders' quick settings, the
 * same quantisers as ours, two clips at a time; then every output decoded once, to see that it can be. Nothing is
 * sampled, held against the original, checked or written down.
 */
export async function tunedScript(clips: readonly TunedClip[], outRoot: string): Promise<void> {
  const targetOf = (output: OutputPlan): string => join(outRoot, output.path);
  await inLanes(clips, lanes, async ({ plan, source, tunings }) => {
    for (const output of plan.outputs) await mkdir(dirname(targetOf(output)), { recursive: true });
    await ffmpegEnds([
      ...['-v', 'error', '-y', '-i', source],
      ...plan.outputs.flatMap((output, index) => outputArguments(output, tunings[index] ?? {}, targetOf(output))),
    ]);
  });
  const made = clips.flatMap(({ plan }) => plan.outputs.map(targetOf));
  await inLanes(made, lanes, (path) => ffmpegEnds(['-v', 'error', '-i', path, '-f', 'null', '-']));
}
