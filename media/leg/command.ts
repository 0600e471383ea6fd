import type { LegPlan, OutputPlan } from '@relay/core/recipe/plan';
import { formatFraction } from '@relay/core/time/rational';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';
import { trackArguments, type TrackArguments } from './sound.ts';

function tagArguments(output: OutputPlan): string[] {
  const { colour } = output.video;
  return [
    ...(colour.primaries ? ['-color_primaries', colour.primaries] : []),
    ...(colour.transfer ? ['-color_trc', colour.transfer] : []),
    ...(colour.matrix ? ['-colorspace', colour.matrix] : []),
    '-color_range', 'tv',
  ];
}

function outputArguments(output: OutputPlan, tracks: readonly TrackArguments[], tuning: Tuning, target: string): string[] {
  const { video, sound } = output;
  return [
    '-map', '0:v:0', ...tracks.flatMap(({ map }) => ['-map', map]), '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1',
    '-filter:v', pictureFilters(output, tuning), '-r', formatFraction(video.rate),
    ...encoderArguments(output, tuning), '-pix_fmt', pixelFormat(output), ...tagArguments(output),
    ...sound.tracks.flatMap((track, index) => [
      ...(tracks[index]?.filter ? [`-filter:a:${index}`, tracks[index].filter] : []), `-c:a:${index}`, `pcm_s${track.bitDepth}le`, ...(track.label ? [`-metadata:s:a:${index}`, `handler_name=${track.label}`] : []),
    ]),
    ...(output.timecode ? ['-timecode', output.timecode.start] : []),
    ...(output.reel ? ['-metadata:s:v:0', `reel_name=${output.reel}`] : []),
    '-video_track_timescale', String(video.rate.num), '-movflags', '+write_colr', '-max_muxing_queue_size', '4096',
    '-f', 'mov', `file:${target}`,
  ];
}

/** The one command of a leg: one decode, every deliverable. `input` opens the original; `targets` are the files to write, in the order of the plan's outputs. */
export function legArguments(plan: LegPlan, input: readonly string[], targets: readonly string[], tunings: readonly Tuning[]): string[] {
  const tracks = plan.outputs.map((output, o) => output.sound.tracks.map((track, t) => trackArguments(plan, output.sound, track, `o${o}t${t}`)));
  const graphs = tracks.flat().flatMap(({ graph }) => (graph ? [graph] : []));
  return [
    '-hide_banner', '-v', 'error', '-nostats', '-stats_period', '0.5', '-progress', 'pipe:3', '-n', ...input, ...(graphs.length > 0 ? ['-filter_complex', graphs.join(';')] : []),
    ...plan.outputs.flatMap((output, index) => outputArguments(output, tracks[index] ?? [], tunings[index] ?? {}, targets[index] as string)),
  ];
}
