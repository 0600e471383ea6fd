import type { Rule } from '../finding.ts';

/** Tagged full range, yet every level stays inside legal range. */
export const rangeNeverFull: Rule = {
  level: 'decide',
  look: ({ clip: { video }, measured }) =>
    video?.colour.range === 'full' &&
    video.chroma !== 'rgb' &&
    measured?.picture &&
    measured.picture.belowLegal === 0 &&
    measured.picture.aboveLegal === 0 &&
    measured.picture.low >= 64 &&
    measured.picture.low < 80
      ? {
          text: 'Full range never used',
          why: `Tagged full range, but black stays at ${measured.picture.low} and nothing leaves 64 to 940 of 1023`,
          remedy: 'If blacks look grey, the tag is wrong: state legal range',
        }
      : null,
};
