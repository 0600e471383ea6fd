import { spawn } from 'node:child_process';
import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { isInterlaced } from '@relay/core/clip/description';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { formatFraction } from '@relay/core/time/rational';

/**
 * The plain way: one FFmpeg command for each output, one after the other, with the codec, profile, size, rate and
 * sampling of the plan and everything else as FFmpeg has it. No sampling before and no proof after.
 */
export function plainArguments(plan: LegPlan, output: OutputPlan, source: string, target: string): string[] {
  const { video } = output;
  const isProRes = output.codec.id === 'prores';
  const fields = isInterlaced(plan.original.video?.scan ?? 'progressive');
  const filters = [
    ...(fields && !isInterlaced(video.scan) ? ['bwdif=mode=send_frame'] : []),
    ...(video.steps.some((step) => step.kind === 'scale')
      ? [`scale=${video.raster.width}:${video.raster.height}${isInterlaced(video.scan) ? ':interl=1' : ''}`, 'setsar=1']
      : []),
  ];
  return [
    '-v',
    'error',
    '-y',
    '-i',
    source,
    '-map',
    '0:v:0',
    '-map',
    '0:a?',
    '-dn',
    ...(filters.length > 0 ? ['-vf', filters.join(',')] : []),
    '-r',
    formatFraction(video.rate),
    ...(isProRes
      ? ['-c:v', 'prores_ks', '-profile:v', 'hq', '-pix_fmt', 'yuv422p10le']
      : ['-c:v', 'libx264', '-profile:v', 'high', '-pix_fmt', 'yuv420p']),
    ...(isInterlaced(video.scan) ? ['-flags', '+ildct', '-top', '1'] : []),
    '-c:a',
    'pcm_s24le',
    '-ar',
    '48000',
    '-f',
    'mov',
    target,
  ];
}

export async function plainWay(plans: readonly { plan: LegPlan; source: string }[], outRoot: string): Promise<void> {
  for (const { plan, source } of plans) {
    for (const output of plan.outputs) {
      const target = join(outRoot, output.path);
      await mkdir(dirname(target), { recursive: true });
      const child = spawn('ffmpeg', plainArguments(plan, output, source, target), { stdio: 'ignore' });
      await new Promise((resolve) => child.once('close', resolve));
    }
  }
}
