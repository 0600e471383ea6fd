import { formatRate } from '../time/rate.ts';
import { equal, formatFraction } from '../time/rational.ts';
import { isInterlaced, type ClipDescription } from './description.ts';

/** Something worth knowing of a clip before a run, in plain words; `decide` where a person should look. */
export interface Note {
  level: 'decide' | 'note';
  text: string;
}

/** What the facts of one clip give away on their own, the gravest first. */
export function notesOn(clip: ClipDescription): Note[] {
  const notes: Note[] = [];
  const { video } = clip;
  if (clip.cutShort) notes.push({ level: 'decide', text: `Cut short: ${clip.cutShort}` });
  if (!video) notes.push({ level: 'note', text: 'Sound only' });
  if (video && !video.rateConstant) {
    const span = video.rateVaries ? ` ${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)}` : '';
    notes.push({ level: 'decide', text: `Rate varies${span}` });
  }
  if (video && !clip.timecode) notes.push({ level: 'decide', text: 'No timecode' });
  if (video && !equal(video.pixelAspect, { num: 1, den: 1 })) {
    notes.push({ level: 'note', text: `Pixels ${formatFraction(video.pixelAspect, ':')}` });
  }
  if (video && isInterlaced(video.scan)) {
    notes.push({ level: 'note', text: video.scan === 'top-field-first' ? 'Interlaced, top field first' : 'Interlaced, bottom field first' });
  }
  if (video && video.quarterTurns !== 0) notes.push({ level: 'note', text: `To be turned ${video.quarterTurns * 90}°` });
  if (video && clip.timecode && !clip.reel) notes.push({ level: 'note', text: 'No reel' });
  if (video && clip.audio.length === 0) notes.push({ level: 'note', text: 'No sound' });
  if (clip.audio.some((track) => track.sampleRate !== 48_000)) notes.push({ level: 'note', text: 'Sound not at 48 kHz' });
  return notes;
}
