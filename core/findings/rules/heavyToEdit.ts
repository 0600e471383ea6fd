import type { Rule } from '../finding.ts';

/** Long groups of pictures at a high raster or depth: every jump decodes many pictures. */
export const heavyToEdit: Rule = {
  level: 'note',
  look: ({ clip: { video }, measured }) =>
    video &&
    measured?.flow &&
    measured.flow.groupLongest > 1 &&
    (video.raster.width > 2048 || video.bitDepth > 8 || measured.flow.groupLongest > 60)
      ? {
          text: `Heavy to edit: ${measured.flow.groupLongest} pictures a group`,
          why: `${video.codec} at ${video.raster.width}×${video.raster.height}, ${video.bitDepth} bit: to show one picture up to ${measured.flow.groupLongest} are decoded`,
          remedy: 'Cut with its proxy',
        }
      : null,
};
