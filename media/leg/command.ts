import type { LegPlan, OutputPlan, SoundPlan, SoundTrackPlan } from '@relay/core/recipe/legPlan';
import { hasPicture } from '@relay/core/recipe/codecs';
import { membersOf } from '@relay/core/recipe/members';
import { formatFraction } from '@relay/core/time/rational';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';
import { atomSoundArguments, waveArguments, wrapperArguments } from './wrap.ts';
import { under } from '@relay/core/naming/under';
import { memberName } from './open.ts';
import { trackArguments, type TrackArguments } from './sound.ts';

function tagArguments(output: OutputPlan): string[] {
  const { colour } = output.video;
  return [
    ...(colour.primaries ? ['-color_primaries', colour.primaries] : []),
    ...(colour.transfer ? ['-color_trc', colour.transfer] : []),
    ...(colour.matrix ? ['-colorspace', colour.matrix] : []),
    '-color_range',
    colour.range === 'full' ? 'pc' : 'tv',
  ];
}

/** The encoder's arguments of one sound track. AAC puts no noise of its own in place of noise: what is cut by must be the sound that it was made of. */
export function trackCoding({ coding }: SoundPlan, track: SoundTrackPlan, index: number): string[] {
  return coding
    ? [
        `-c:a:${index}`,
        'aac',
        `-aac_pns:a:${index}`,
        '0',
        `-b:a:${index}`,
        String(coding.bitsPerSecond * track.channels),
      ]
    : [`-c:a:${index}`, `pcm_s${track.bitDepth}le`];
}

/** Picture of one output: what is mapped, filtered and encoded. */
export function pictureArguments(output: OutputPlan, tuning: Tuning): string[] {
  return [
    '-map',
    '0:v:0',
    '-filter:v',
    pictureFilters(output, tuning),
    '-r',
    formatFraction(output.video.rate),
    ...encoderArguments(output, tuning),
    '-pix_fmt',
    pixelFormat(output),
    ...tagArguments(output),
  ];
}

/** These of an output's sound tracks, in one file. */
export function soundArguments(
  { sound }: OutputPlan,
  tracks: readonly TrackArguments[],
  wanted: readonly number[],
): string[] {
  return wanted.flatMap((index, place) => {
    const [track, made] = [sound.tracks[index] as SoundTrackPlan, tracks[index] as TrackArguments];
    return [
      '-map',
      made.map,
      ...(made.filter ? [`-filter:a:${place}`, made.filter] : []),
      ...trackCoding(sound, track, place),
      ...(track.label ? [`-metadata:s:a:${place}`, `handler_name=${track.label}`] : []),
    ];
  });
}

/** Nothing of the original comes along but what was mapped. */
export const nothingElse = [
  '-dn',
  '-sn',
  '-map_metadata',
  '-1',
  '-map_chapters',
  '-1',
  '-max_muxing_queue_size',
  '4096',
];

/** The files of one output, each with all its arguments. `target` is the file, or the folder that they lie in. */
function outputArguments(
  output: OutputPlan,
  tracks: readonly TrackArguments[],
  tuning: Tuning,
  target: string,
): string[] {
  const members = membersOf(output);
  const all = output.sound.tracks.map((_, index) => index);
  if (!members)
    return [
      ...(hasPicture(output) ? pictureArguments(output, tuning) : []),
      ...soundArguments(output, tracks, all),
      ...nothingElse,
      ...wrapperArguments(output),
      `file:${target}`,
    ];
  const { picture } = members;
  // Only images have patterns for names, in which a % is doubled.
  const seen = [
    ...pictureArguments(output, tuning),
    ...nothingElse,
    ...wrapperArguments(output),
    ...(picture.kind === 'numbered' ? ['-start_number', String(picture.first)] : []),
    `file:${under(picture.kind === 'numbered' ? target.replaceAll('%', '%%') : target, memberName(picture))}`,
  ];
  const heard = members.sound.flatMap((name, index) => [
    ...soundArguments(output, tracks, picture.kind === 'numbered' ? all : [index]),
    ...nothingElse,
    ...(picture.kind === 'numbered' ? waveArguments(output) : atomSoundArguments(output)),
    `file:${under(target, name)}`,
  ]);
  return [...seen, ...heard];
}

/** The one command of a leg: one decode, every deliverable. `input` opens the original; `targets` are the files to write, in the order of the plan's outputs. */
export function legArguments(
  plan: LegPlan,
  input: readonly string[],
  targets: readonly string[],
  tunings: readonly Tuning[],
): string[] {
  const tracks = plan.outputs.map((output, o) =>
    output.sound.tracks.map((track, t) => trackArguments(plan, output, track, `o${o}t${t}`)),
  );
  const graphs = tracks.flat().flatMap(({ graph }) => (graph ? [graph] : []));
  return [
    '-hide_banner',
    '-v',
    'error',
    '-nostats',
    '-y',
    ...input,
    ...(graphs.length > 0 ? ['-filter_complex', graphs.join(';')] : []),
    ...plan.outputs.flatMap((output, index) =>
      outputArguments(output, tracks[index] ?? [], tunings[index] ?? {}, targets[index] as string),
    ),
  ];
}
