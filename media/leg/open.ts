import { hasPicture } from '@relay/core/recipe/codecs';
import { membersOf, type Members } from '@relay/core/recipe/members';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { formatFraction } from '@relay/core/time/rational';
import { under } from '@relay/core/naming/under';
import { imagesArguments, inputArguments } from '../process/ffmpeg.ts';

/** The name of a picture member as FFmpeg takes it: a plain one, or a pattern for numbers. */
export function memberName(picture: Members['picture']): string {
  return picture.kind === 'track'
    ? picture.name
    : `${picture.before.replaceAll('%', '%%')}%0${picture.digits}d${picture.after}`;
}

/** How a made output is opened, whether it is one file or a folder of them. */
export interface Opened {
  /** FFmpeg's arguments for all its files. */
  input: string[];
  /** The picture's stream; null where there is none. */
  picture: string | null;
  /** The stream of a sound track, counted from 0 as the plan does. */
  sound: (track: number) => string;
}

/** Opens an output at `path`, a file or a folder. */
export function openOutput(output: OutputPlan, path: string): Opened {
  const members = membersOf(output);
  if (!members)
    return {
      input: inputArguments(path),
      picture: hasPicture(output) ? '0:v:0' : null,
      sound: (track) => `0:a:${track}`,
    };
  const { picture, sound } = members;
  const seen =
    picture.kind === 'track'
      ? inputArguments(under(path, picture.name))
      : imagesArguments(
          under(path.replaceAll('%', '%%'), memberName(picture)),
          picture.first,
          formatFraction(output.video.rate),
        );
  return {
    input: [...seen, ...sound.flatMap((name) => inputArguments(under(path, name)))],
    picture: '0:v:0',
    sound: (track) => (picture.kind === 'track' ? `${track + 1}:a:0` : `1:a:${track}`),
  };
}

/** The first input of several. */
export function firstInput(args: readonly string[]): readonly string[] {
  return args.slice(0, args.indexOf('-i') + 2);
}
