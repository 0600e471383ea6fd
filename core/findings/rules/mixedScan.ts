import type { Rule } from '../finding.ts';

/** Some pictures are flagged as fields and some as whole, or against what the file says. */
export const mixedScan: Rule = {
  level: 'decide',
  look: ({ clip: { video }, measured }) => {
    const scans = measured?.picture?.scans ?? [];
    return video && scans.length > 1
      ? {
          text: 'Scan flags mixed',
          why: `Pictures are flagged ${scans.map((scan) => scan.replaceAll('-', ' ')).join(' and ')}`,
          remedy: 'Watch a pan: if edges comb, say that it is interlaced',
        }
      : null;
  },
};
