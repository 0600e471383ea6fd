import { timecodeToFrames } from '../time/timecode.ts';
import type { OutputPlan } from './legPlan.ts';
import { wrappers } from './wrappers.ts';

/** The files of an output that is a folder: names inside it. */
export interface Members {
  /** One file, or one for each picture, numbered on from `first` with so many digits. */
  picture:
    | { kind: 'track'; name: string }
    | { kind: 'numbered'; before: string; digits: number; after: string; first: number };
  /** One for each sound track of the plan. */
  sound: string[];
}

/** So many digits hold a day of 1000 pictures a second. */
const digits = 8;

/**
 * What lies in the folder that an output is; null where the output is one file. Images are numbered by the timecode of
 * each, or from 1 where there is none.
 */
export function membersOf(output: OutputPlan): Members | null {
  const { holds } = wrappers[output.wrapper];
  const stem = output.path.slice(output.path.lastIndexOf('/') + 1);
  switch (holds) {
    case 'one file':
      return null;
    case 'a file for each track':
      return {
        picture: { kind: 'track', name: `${stem}_V1.mxf` },
        sound: output.sound.tracks.map((_, index) => `${stem}_A${index + 1}.mxf`),
      };
    case 'a file for each picture': {
      const start = output.timecode ? timecodeToFrames(output.timecode.start, output.video.rate) : null;
      const ending = output.codec.id === 'pictures' ? output.codec.format : 'dpx';
      return {
        picture: {
          kind: 'numbered',
          before: `${stem}.`,
          digits,
          after: `.${ending}`,
          first: start?.ok ? start.value : 1,
        },
        sound: output.sound.tracks.map(() => `${stem}.wav`),
      };
    }
  }
}

/** The longest path that an output has, below the run's folder. */
export function longestPath(output: OutputPlan): string {
  const members = membersOf(output);
  if (!members) return output.path;
  const { picture } = members;
  const names = [
    picture.kind === 'track' ? picture.name : `${picture.before}${'0'.repeat(picture.digits)}${picture.after}`,
    ...members.sound,
  ];
  return `${output.path}/${names.reduce((longest, name) => (name.length > longest.length ? name : longest), '')}`;
}
