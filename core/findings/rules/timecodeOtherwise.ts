import { formatRate } from '../../time/rate.ts';
import type { Rule } from '../finding.ts';

/** A timecode track that counts otherwise than the pictures do: what other programs make of it differs. */
export const timecodeOtherwise: Rule = {
  level: 'note',
  look: ({ clip: { timecode, video } }) => {
    const written = timecode?.written;
    if (!written || !video) return null;
    return written.dropClaimed
      ? {
          text: `Timecode claims drop-frame at ${formatRate(written.rate)}`,
          why: `There is none at ${formatRate(written.rate)}: its labels are counted without, and start at ${timecode.start}`,
          remedy: 'Compare with the slate or the camera report; other programs may show none',
        }
      : {
          text: `Timecode counts ${formatRate(written.rate)}, pictures ${formatRate(video.rate)}`,
          why: `The track starts at ${written.start} of ${formatRate(written.rate)}, which is ${timecode.start} at the pictures' rate; outputs carry that`,
          remedy: 'Relink by names and frames where another program shows other labels',
        };
  },
};
