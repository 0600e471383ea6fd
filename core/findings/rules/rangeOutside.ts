import type { Rule } from '../finding.ts';

/** More than a hundredth of the picture outside legal range, though it is tagged legal or not at all. */
export const rangeOutside: Rule = {
  level: 'note',
  look: ({ clip: { video }, measured }) => {
    if (!video || !measured?.picture || video.colour.range === 'full' || video.chroma === 'rgb') return null;
    const { belowLegal, aboveLegal } = measured.picture;
    const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
    return belowLegal + aboveLegal > 0.01
      ? {
          text: 'Levels outside legal range',
          why: `${percent(belowLegal)} of luma lies below 64 and ${percent(aboveLegal)} above 940 of 1023`,
          remedy:
            'If the camera recorded full range, its tag is missing: state the range; if these are highlights, go on',
        }
      : null;
  },
};
