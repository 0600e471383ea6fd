import type { Rule } from '../finding.ts';

/** Sound at another rate than the trade's. */
export const not48k: Rule = {
  level: 'note',
  look: ({ clip }) =>
    clip.audio.some((track) => track.sampleRate !== 48_000)
      ? {
          text: 'Sound not at 48 kHz',
          why: `Recorded at ${[...new Set(clip.audio.map((track) => track.sampleRate / 1000))].join(', ')} kHz`,
          remedy: 'Outputs carry 48 kHz, in sync',
        }
      : null,
};
