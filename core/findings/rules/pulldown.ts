import type { Rule } from '../finding.ts';

/** Film's 24 pictures spread over 30 by repeated fields, and nobody has said what becomes of it. */
export const pulldown: Rule = {
  level: 'decide',
  look: ({ measured, conformSaid }) => {
    const fields = measured?.picture?.fields;
    if (conformSaid || fields?.seen !== 'pulldown') return null;
    return {
      text: '2:3 pulldown',
      why: `Fields repeat in the 2:3 pattern in ${Math.round(fields.confidence * 100)} % of the places where they would; the clip begins with ${['AA', 'BB', 'BC', 'CD', 'DD'][fields.phase ?? 0]}`,
      remedy: 'Take it out on the bench, under Time: 23.976 whole pictures come back; or keep the fields as they are',
    };
  },
};
