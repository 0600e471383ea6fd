import { expect, it } from 'vitest';
import { wrappers } from './wrappers.ts';

/** What travels in a wrapper beside pictures and sound. */
const keeps = ({ timecode, reel, colourTags, pixelAspect, layouts }: (typeof wrappers)['mov']): string =>
  Object.entries({ timecode, reel, colourTags, pixelAspect, layouts })
    .filter(([, kept]) => kept)
    .map(([what]) => what)
    .join(' ');

// What FFmpeg's muxers write: each is proved by the outputs of work/leg/codecs.test.ts; here the plan is held to it.
it.each([
  ['mov', 'timecode reel colourTags pixelAspect layouts'],
  ['mp4', 'timecode colourTags pixelAspect layouts'],
  ['mxf', 'timecode reel colourTags pixelAspect'],
  ['opatom', 'timecode reel colourTags pixelAspect'],
  ['mkv', 'timecode reel colourTags pixelAspect'],
  ['avi', 'timecode'],
  ['pictures', 'timecode'],
  // Of sound alone: nothing of pictures is lost.
  ['wav', 'timecode pixelAspect'],
] as const)('%s keeps %s', (wrapper, kept) => {
  expect(keeps(wrappers[wrapper])).toBe(kept);
});
