import type { Rule } from '../finding.ts';

/** No picture could be decoded anywhere in the clip, though its first one seemed to. */
export const undecodable: Rule = {
  level: 'stop',
  look: ({ clip, measured }) =>
    clip.video && measured && !measured.picture
      ? {
          text: 'Cannot be decoded',
          why: `No picture of it could be decoded${measured.errors[0] ? ` (${measured.errors[0]})` : ''}`,
          remedy: 'Copy it from the card again; if it stays so, ask for it on set before the card is cleared',
        }
      : null,
};
