import { someOf } from '../words.ts';
import type { Rule } from '../finding.ts';

/** Another clip has the same name: relinking by name cannot tell them apart. */
export const sameName: Rule = {
  level: 'decide',
  look: ({ sameName: others }) =>
    others.length > 0
      ? {
          text: 'Name not its own',
          why: `Called the same as ${someOf(others)}`,
          remedy: 'Keep them in folders by roll and relink by reel and timecode too',
        }
      : null,
};
