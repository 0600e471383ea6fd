import { isInterlaced } from '../../clip/description.ts';
import type { Rule } from '../finding.ts';

/** The pictures are scanned otherwise than the file says: found by looking at fields of consecutive pictures. Nothing is changed by itself. */
export const scanContradicts: Rule = {
  level: 'decide',
  look: ({ clip: { video }, measured, scanSaid }) => {
    const seen = measured?.picture?.fields;
    if (!video || !seen || scanSaid || seen.confidence < 0.7 || seen.judged < 6) return null;
    const sure = `${Math.round(seen.confidence * 100)} % of ${seen.judged} moving pictures`;
    if (seen.seen === 'pulldown') return { text: '2:3 pulldown in it', why: `Fields repeat as AA BB BC CD DD, ${sure}`, remedy: 'Take the pulldown out on the bench, under time, or say that it stays' };
    const says = video.scan.replaceAll('-', ' ');
    if (isInterlaced(video.scan) && seen.seen === 'progressive') return { text: 'Whole pictures, flagged as fields', why: `The file says ${says}, ${sure} show one moment`, remedy: 'Say on the bench, under time, that they are whole pictures, so that nothing deinterlaces them' };
    if (!isInterlaced(video.scan) && (seen.seen === 'top-field-first' || seen.seen === 'bottom-field-first')) return { text: 'Fields, flagged as whole pictures', why: `The file says ${says}, ${sure} show ${seen.seen.replaceAll('-', ' ')}`, remedy: 'Say on the bench, under time, that they are fields' };
    if (isInterlaced(video.scan) && isInterlaced(seen.seen as typeof video.scan) && seen.seen !== video.scan) return { text: 'Field order contradicts', why: `The file says ${says}, ${sure} show ${seen.seen.replaceAll('-', ' ')}`, remedy: 'Watch a pan, and say on the bench, under time, which field is first' };
    return null;
  },
};
