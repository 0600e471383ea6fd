import type { LegPlan, OutputPlan, SoundPlan, SoundTrackPlan } from '@relay/core/recipe/plan';
import { formatFraction } from '@relay/core/time/rational';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';
import { wrapperArguments } from './wrap.ts';
import { trackArguments, type TrackArguments } from './sound.ts';

function tagArguments(output: OutputPlan): string[] {
  const { colour } = output.video;
  return [
    ...(colour.primaries ? ['-color_primaries', colour.primaries] : []),
    ...(colour.transfer ? ['-color_trc', colour.transfer] : []),
    ...(colour.matrix ? ['-colorspace', colour.matrix] : []),
    '-color_range', colour.range === 'full' ? 'pc' : 'tv',
  ];
}

function soundCoding({ coding }: SoundPlan, track: SoundTrackPlan, index: number): string[] {
  return coding ? [`-c:a:${index}`, 'aac', `-b:a:${index}`, String(coding.bitsPerSecond * track.channels)] : [`-c:a:${index}`, `pcm_s${track.bitDepth}le`];
}

function outputArguments(output: OutputPlan, tracks: readonly TrackArguments[], tuning: Tuning, target: string): string[] {
  const { video, sound } = output;
  return [
    '-map', '0:v:0', ...tracks.flatMap(({ map }) => ['-map', map]), '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1',
    '-filter:v', pictureFilters(output, tuning), '-r', formatFraction(video.rate),
    ...encoderArguments(output, tuning), '-pix_fmt', pixelFormat(output), ...tagArguments(output),
    ...sound.tracks.flatMap((track, index) => [
      ...(tracks[index]?.filter ? [`-filter:a:${index}`, tracks[index].filter] : []), ...soundCoding(sound, track, index), ...(track.label ? [`-metadata:s:a:${index}`, `handler_name=${track.label}`] : []),
    ]),
    '-max_muxing_queue_size', '4096', ...wrapperArguments(output), `file:${target}`,
  ];
}

/** The one command of a leg: one decode, every deliverable. `input` opens the original; `targets` are the files to write, in the order of the plan's outputs. */
export function legArguments(plan: LegPlan, input: readonly string[], targets: readonly string[], tunings: readonly Tuning[]): string[] {
  const tracks = plan.outputs.map((output, o) => output.sound.tracks.map((track, t) => trackArguments(plan, output, track, `o${o}t${t}`)));
  const graphs = tracks.flat().flatMap(({ graph }) => (graph ? [graph] : []));
  return [
    '-hide_banner', '-v', 'error', '-nostats', '-stats_period', '0.5', '-progress', 'pipe:3', '-n', ...input, ...(graphs.length > 0 ? ['-filter_complex', graphs.join(';')] : []),
    ...plan.outputs.flatMap((output, index) => outputArguments(output, tracks[index] ?? [], tunings[index] ?? {}, targets[index] as string)),
  ];
}
