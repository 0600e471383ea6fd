import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { timeReference } from '@relay/core/recipe/timeReference';
import { formatFraction } from '@relay/core/time/rational';

function start({ timecode }: OutputPlan): string[] {
  return timecode ? ['-timecode', timecode.start] : [];
}

function reelOn({ reel }: OutputPlan, where: string): string[] {
  return reel ? [where, `reel_name=${reel}`] : [];
}

/**
 * The muxer's arguments for one output: one builder for each wrapper. Start timecode and reel go where each has a place
 * for them.
 */
export function wrapperArguments(output: OutputPlan): string[] {
  const { video } = output;
  switch (output.wrapper) {
    case 'mov':
      return [
        ...start(output),
        ...reelOn(output, '-metadata:s:v:0'),
        '-video_track_timescale',
        String(video.rate.num),
        '-movflags',
        '+write_colr',
        '-f',
        'mov',
      ];
    case 'mp4':
      return [
        ...start(output),
        '-video_track_timescale',
        String(video.rate.num),
        '-movflags',
        '+write_colr+faststart',
        '-f',
        'mp4',
      ];
    case 'mxf':
      return [...start(output), ...reelOn(output, '-metadata'), '-f', 'mxf'];
    case 'opatom':
      return [...start(output), ...reelOn(output, '-metadata'), '-f', 'mxf_opatom'];
    // Times are written in milliseconds, which no rate of film fits: the rate is read back from the frames' own
    // duration.
    case 'mkv':
      return [...start(output), ...reelOn(output, '-metadata:s:v:0'), '-f', 'matroska'];
    case 'avi':
      return [...start(output), '-f', 'avi'];
    case 'pictures':
      return ['-f', 'image2'];
    case 'wav':
      return waveArguments(output);
  }
}

/**
 * One track of sound of an OP-Atom set. Its edit units are the picture's frames; FFmpeg takes 25 a second unless told.
 */
export function atomSoundArguments(output: OutputPlan): string[] {
  return ['-mxf_audio_edit_rate', formatFraction(output.video.rate), ...wrapperArguments(output)];
}

/** A Broadcast Wave file: its time, and what made it. */
export function waveArguments(output: OutputPlan): string[] {
  const reference = timeReference(output);
  return [
    '-write_bext',
    '1',
    '-metadata',
    'originator=Brisk Relay',
    ...(reference === null ? [] : ['-metadata', `time_reference=${reference}`]),
    '-rf64',
    'auto',
    '-f',
    'wav',
  ];
}
