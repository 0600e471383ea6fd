import { looksLog } from '../../measure/levels.ts';
import type { Rule } from '../finding.ts';

const display = new Set(['bt709', 'smpte170m', 'bt470bg', 'iec61966-2-1', 'bt2020-10', 'bt2020-12']);

/**
 * Pictures that look like a log curve under a tag for display video, or none, and nobody said what the camera recorded.
 */
export const logAsVideo: Rule = {
  level: 'decide',
  look: ({ clip: { video }, measured, recorded }) =>
    video &&
    measured?.picture &&
    recorded === null &&
    (video.colour.transfer === null || display.has(video.colour.transfer)) &&
    looksLog(measured.picture)
      ? {
          text: video.colour.transfer ? 'Looks like log, tagged as video' : 'Looks like log, untagged',
          why: `Black lies at ${measured.picture.low}, white at ${measured.picture.high} of 1023, and colours are faint`,
          remedy: 'If it was shot in log, say in which on the bench; if it was foggy, go on',
        }
      : null,
};
