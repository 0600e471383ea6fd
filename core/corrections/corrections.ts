import type { ClipDescription, Scan } from '../clip/description.ts';
import type { Chain } from '../colour/chain/chain.ts';
import type { Firmness } from '../repair/stabilise.ts';
import type { ShapeCorrection } from '../shape/geometry.ts';
import type { SoundCorrection } from '../sound/map.ts';
import type { Conform } from '../time/conform.ts';

/** How a clip's pictures were really scanned, where the file says otherwise, and how they are deinterlaced. */
export interface ScanCorrection {
  read?: Exclude<Scan, 'unknown'>;
  /** `double` makes a picture of each field, at twice the rate. */
  deinterlaced?: 'single' | 'double';
}

/** Repairs, each off unless stated. */
export interface Repair {
  /** Temporal noise reduction: 1 (light) to 3 (strong). */
  denoise?: 1 | 2 | 3;
  /** A shaken camera held: 1 (eased) to 3 (as on a tripod). */
  stabilise?: Firmness;
}

/** What is to change on a clip. Anything absent stays as the file states it. */
export interface ClipCorrections {
  shape?: ShapeCorrection;
  time?: Conform | null;
  scan?: ScanCorrection;
  sound?: SoundCorrection;
  repair?: Repair;
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

/** One over the other, field by field: what the nearer one says holds. */
export function over(farther: ClipCorrections, nearer: ClipCorrections): ClipCorrections {
  const all: ClipCorrections = { ...farther };
  if (nearer.shape) all.shape = { ...farther.shape, ...nearer.shape };
  if (nearer.scan) all.scan = { ...farther.scan, ...nearer.scan };
  if (nearer.identity) all.identity = { ...farther.identity, ...nearer.identity };
  if (nearer.time !== undefined) all.time = nearer.time;
  if (nearer.sound !== undefined) all.sound = nearer.sound;
  if (nearer.repair !== undefined) all.repair = nearer.repair;
  if (nearer.colour !== undefined) all.colour = nearer.colour;
  return all;
}

/** All that the rules change on one clip. */
export function correctionsFor(clip: ClipDescription, roll: string, rules: readonly CorrectionRule[]): ClipCorrections {
  return rules
    .filter((rule) => fits(clip, roll, rule.when))
    .reduce<ClipCorrections>((all, rule) => over(all, rule.change), {});
}
