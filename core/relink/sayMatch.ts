import type { CutSource } from '../cut/cut.ts';
import { formatRate } from '../time/rate.ts';
import { framesToTimecode } from '../time/timecode.ts';
import { loosely, type Target } from './target.ts';
import type { Candidate, Grade } from './grade.ts';

function startLabel({ start, rate, dropFrame }: Target): string | null {
  const label = start !== null && rate ? framesToTimecode(start, rate, dropFrame) : null;
  return label?.ok ? label.value.text : null;
}

function endLabel({ start, rate, dropFrame, frames }: Target): string {
  const label = start !== null && rate ? framesToTimecode(start + frames, rate, dropFrame) : null;
  return label?.ok ? label.value.text : '';
}

/** Why an event is certain to be of an original. */
export function sayExact(grade: Grade, { target, fit }: Candidate, source: CutSource): string {
  const time = fit.fromZero ? 'its frames are counted from 0, as it has no timecode' : 'its timecode lies within';
  const through = target.output ? `, through ${target.output.path}` : '';
  switch (grade) {
    case 'exact':
      return `The reel ${source.reel} is right and ${time}${through}`;
    case 'name':
      return `The name ${target.stem} is right and ${time}${through}`;
    default:
      return `The path ends alike and ${time}${through}`;
  }
}

export function saySeveral(candidates: readonly Candidate[]): string {
  return `${candidates.length} originals answer: ${candidates
    .slice(0, 3)
    .map(({ target }) => target.path)
    .join(', ')}${candidates.length > 3 ? ', …' : ''}`;
}

/** In what a file is not as an event says. */
export function differences({ target, fit }: Candidate, source: CutSource): string {
  return [reelDiffers(target, source), nameDiffers(target, source), ...timeDiffers({ target, fit }, source)]
    .filter((one) => one !== null)
    .join('; ');
}

function reelDiffers({ reels, stem }: Target, { reel }: CutSource): string | null {
  if (reel === null || reels.includes(reel) || reel === stem) return null;
  const known = [...reels, stem];
  const alike = known.find((one) => loosely(one) === loosely(reel));
  if (alike !== undefined) return `Its reel is written ${alike}, in the list ${reel}`;
  const longer = known.find((one) => loosely(one).startsWith(loosely(reel)));
  if (longer !== undefined) return `Its reel ${longer} is cut to ${reel} in the list`;
  const [own] = reels;
  return own === undefined ? `It has no reel, the list says ${reel}` : `Its reel is ${own}, in the list ${reel}`;
}

function nameDiffers({ stem, path }: Target, { clip, reel }: CutSource): string | null {
  if (clip === null || clip === stem || path.endsWith(`/${clip}`) || path === clip) return null;
  // A name of the editor's own says nothing where the reel is known.
  return loosely(clip) === loosely(stem) || reel === null ? `Its name is ${stem}, in the list ${clip}` : null;
}

function timeDiffers({ target, fit }: Candidate, source: CutSource): string[] {
  const said: string[] = [];
  if (fit.dropDiffers)
    said.push(
      `Its timecode is ${target.dropFrame ? 'drop-frame' : 'non-drop'}, the list counts ${source.dropFrame ? 'drop-frame' : 'non-drop'}`,
    );
  const start = startLabel(target);
  switch (fit.kind) {
    case 'other rate':
      said.push(`It counts at ${target.rate ? formatRate(target.rate) : ''}, the list at ${formatRate(source.rate)}`);
      break;
    case 'outside':
      said.push(
        start === null
          ? `It has ${target.frames} frames, and none of those that are needed`
          : `It runs from ${start} to ${endLabel(target)}, and none of what is needed lies in it`,
      );
      break;
    case 'part': {
      const { before, after } = fit.lacks;
      const parts = [before > 0 && `${before} before its beginning`, after > 0 && `${after} after its end`];
      said.push(`Frames that are needed are not in it: ${parts.filter((one) => one !== false).join(' and ')}`);
      break;
    }
    case 'unknown':
      if (target.varies) said.push('Its rate varies: only what was made of it at a constant one leads to its frames');
      else if (start === null && target.rate !== null) said.push('It has no timecode');
      break;
    case 'whole':
  }
  return said;
}
