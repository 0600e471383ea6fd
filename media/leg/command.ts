import type { LegPlan, OutputPlan } from '@relay/core/recipe/plan';
import { formatFraction } from '@relay/core/time/rational';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat, soundFilters } from './filters.ts';

function tagArguments(output: OutputPlan): string[] {
  const { colour } = output.video;
  return [
    ...(colour.primaries ? ['-color_primaries', colour.primaries] : []),
    ...(colour.transfer ? ['-color_trc', colour.transfer] : []),
    ...(colour.matrix ? ['-colorspace', colour.matrix] : []),
    '-color_range', 'tv',
  ];
}

function outputArguments(plan: LegPlan, output: OutputPlan, tuning: Tuning, target: string): string[] {
  const { video, sound } = output;
  return [
    '-map', '0:v:0', ...sound.tracks.flatMap((track) => ['-map', `0:a:${track.from}`]), '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1',
    '-filter:v', pictureFilters(output, tuning.lut), '-r', formatFraction(video.rate),
    ...encoderArguments(output, tuning), '-pix_fmt', pixelFormat(output), ...tagArguments(output),
    ...sound.tracks.flatMap((track, index) => [
      `-filter:a:${index}`, soundFilters(sound, plan.pictureStart, plan.original), `-c:a:${index}`, `pcm_s${track.bitDepth}le`,
    ]),
    ...(output.timecode ? ['-timecode', output.timecode.start] : []),
    ...(output.reel ? ['-metadata:s:v:0', `reel_name=${output.reel}`] : []),
    '-video_track_timescale', String(video.rate.num), '-movflags', '+write_colr', '-max_muxing_queue_size', '4096',
    '-f', 'mov', `file:${target}`,
  ];
}

/** The one command of a leg: one decode, every deliverable. `input` opens the original; `targets` are the files to write, in the order of the plan's outputs. */
export function legArguments(plan: LegPlan, input: readonly string[], targets: readonly string[], tunings: readonly Tuning[]): string[] {
  return [
    '-hide_banner', '-v', 'error', '-nostats', '-stats_period', '0.5', '-progress', 'pipe:3', '-n', ...input,
    ...plan.outputs.flatMap((output, index) => outputArguments(plan, output, tunings[index] ?? {}, targets[index] as string)),
  ];
}
