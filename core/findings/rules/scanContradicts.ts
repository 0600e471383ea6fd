import { isInterlaced, type Scan } from '../../clip/description.ts';
import type { Rule } from '../finding.ts';

/** Fewer judged pairs of pictures prove nothing against what a file says. */
const enough = 6;

const named: Readonly<Record<Scan, string>> = {
  progressive: 'whole pictures',
  'top-field-first': 'fields, the top first',
  'bottom-field-first': 'fields, the bottom first',
  unknown: 'nothing',
};

/**
 * What moves says otherwise than the file does, and nobody has said which is right: fields, their order, or whole
 * pictures in an interlaced file.
 */
export const scanContradicts: Rule = {
  level: 'decide',
  look: ({ clip: { video }, measured, scanSaid }) => {
    const fields = measured?.picture?.fields;
    if (!video || scanSaid !== null || !fields || fields.judged < enough || fields.confidence < 0.8) return null;
    const { seen } = fields;
    if (
      seen === 'still' ||
      seen === 'pulldown' ||
      seen === video.scan ||
      (seen === 'progressive' && !isInterlaced(video.scan))
    )
      return null;
    return {
      text:
        seen === 'progressive'
          ? 'Whole pictures in an interlaced file'
          : video.scan === 'progressive' || video.scan === 'unknown'
            ? 'Fields in a file of whole pictures'
            : 'Fields the other way round',
      why: `The file says ${named[video.scan]}; ${Math.round(fields.confidence * 100)} % of ${fields.judged} moving pictures show ${named[seen]}`,
      remedy:
        seen === 'progressive'
          ? 'Say on the bench, under Time, that they are whole pictures: nothing is deinterlaced then'
          : `Say on the bench, under Time, that they are ${named[seen]}`,
    };
  },
};
