import type { Rule } from '../finding.ts';

const wide = new Set(['bt2020', 'bt2020nc', 'bt2020c']);
const highRange = new Set(['smpte2084', 'arib-std-b67']);

/** Tags that do not go together (combinations of ITU-T H.273 that no standard defines). */
export const colourContradicts: Rule = {
  level: 'decide',
  look: ({ clip: { video } }) => {
    if (!video) return null;
    const { primaries, transfer, matrix } = video.colour;
    const remedy = 'Ask which the camera was set to, and correct the tags';
    if (transfer && highRange.has(transfer) && primaries && !wide.has(primaries))
      return {
        text: 'Colour tags contradict',
        why: `A high-dynamic-range curve (${transfer}) with ${primaries} primaries`,
        remedy,
      };
    if (matrix && primaries && video.chroma !== 'rgb' && matrix !== 'gbr' && wide.has(matrix) !== wide.has(primaries))
      return { text: 'Colour tags contradict', why: `A ${matrix} matrix with ${primaries} primaries`, remedy };
    if (matrix === 'gbr' && video.chroma !== 'rgb')
      return { text: 'Colour tags contradict', why: 'Tagged as RGB, stored as luma and colour difference', remedy };
    return null;
  },
};
