import type { ClipDescription } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import type { Rational } from '../time/rational.ts';

/** What is to change on a clip. Anything absent stays as the file states it. */
export interface ClipCorrections {
  shape?: {
    /** The lens's squeeze: the picture is widened by it, over the tagged pixel aspect. */
    squeeze?: Rational;
    /** The pixel aspect that holds instead of the tagged one. */
    pixelAspect?: Rational;
  };
  identity?: { reel?: string };
  /** The chain from camera to display; null where somebody said that there is none. */
  colour?: Chain | null;
}

/** Which clips a rule is for: every condition given must hold. `path` may hold `*` (within a folder) and `**`. */
export interface RuleCondition {
  path?: string;
  roll?: string;
  codecId?: string;
}

export interface CorrectionRule {
  when: RuleCondition;
  change: ClipCorrections;
}

/** What `./relay run --corrections FILE` reads. Later rules win over earlier ones, field by field. */
export interface CorrectionsFile {
  version: 1;
  rules: CorrectionRule[];
}

/** Whether a path fits a pattern: `*` is any run of characters within a folder, `**` across folders. */
export function fitsPattern(path: string, pattern: string): boolean {
  const expression = pattern
    .split(/(\*\*|\*)/)
    .map((part) => (part === '**' ? '.*' : part === '*' ? '[^/]*' : part.replace(/[\\^$.|?+()[\]{}]/g, '\\$&')))
    .join('');
  return new RegExp(`^${expression}$`, 'u').test(path);
}

function fits(clip: ClipDescription, roll: string, when: RuleCondition): boolean {
  return (
    (when.path === undefined || fitsPattern(clip.path, when.path)) &&
    (when.roll === undefined || when.roll === roll) &&
    (when.codecId === undefined || when.codecId === clip.video?.codecId)
  );
}

/** All that the rules change on one clip. */
export function correctionsFor(clip: ClipDescription, roll: string, rules: readonly CorrectionRule[]): ClipCorrections {
  return rules
    .filter((rule) => fits(clip, roll, rule.when))
    .reduce<ClipCorrections>(
      (all, rule) => ({
        shape: { ...all.shape, ...rule.change.shape },
        identity: { ...all.identity, ...rule.change.identity },
        ...(rule.change.colour === undefined ? (all.colour === undefined ? {} : { colour: all.colour }) : { colour: rule.change.colour }),
      }),
      {},
    );
}
