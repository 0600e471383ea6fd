import type { Rule } from '../finding.ts';

/** The file does not say which colours its numbers mean. */
export const colourUntagged: Rule = {
  level: 'note',
  look: ({ clip: { video } }) => {
    if (!video || video.chroma === '4:0:0') return null;
    const { primaries, transfer, matrix } = video.colour;
    const missing = [
      primaries ? null : 'primaries',
      transfer ? null : 'curve',
      matrix || video.chroma === 'rgb' ? null : 'matrix',
    ].filter((part) => part !== null);
    return missing.length > 0
      ? {
          text: missing.length === 3 ? 'Colour untagged' : `Colour untagged (${missing.join(', ')})`,
          why: `It does not state its ${missing.join(' and ')}; players guess by raster`,
          remedy:
            'Compare a picture with the camera report; outputs state the matrix that they were taken by, and nothing more',
        }
      : null;
  },
};
