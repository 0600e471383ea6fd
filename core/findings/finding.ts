import type { ClipDescription, Scan } from '../clip/description.ts';
import type { Measured } from '../measure/measured.ts';
import type { Rational } from '../time/rational.ts';

/**
 * How much a finding matters. *stop*: kept out of runs until somebody decides. *decide*: asked before a run, which
 * goes on with the answer. *note*: merely worth knowing.
 */
export type Level = 'stop' | 'decide' | 'note';

/** Something about a clip that needs a decision, or knowing. */
export interface Finding {
  /** The rule that found it, by the name of its file. */
  rule: string;
  level: Level;
  /** In a few words, for a line of the sheet. */
  text: string;
  why: string;
  remedy: string;
}

/** What the rules look at: one clip's facts, and as much of its surroundings as matters. */
export interface FindingFacts {
  clip: ClipDescription;
  /** Reel as it counts: a person's, a sidecar's or the file's. */
  reel: string | null;
  /** Null until the clip was looked at closely; rules that need it then say nothing. */
  measured: Measured | null;
  /** The colour state that the clip's chain says its camera recorded; null where nobody said. */
  recorded: string | null;
  /** The LUT that ends its chain without anybody having said what it gives; null where that is known, or none does. */
  unsaidLut: string | null;
  /** What somebody said of the scan, and whether anybody said what becomes of its frames. */
  scanSaid: Scan | null;
  conformSaid: boolean;
  /** The production's own rate; null where it has not said. */
  productionRate: Rational | null;
  /** Paths of other clips called the same, and of those on the same reel with timecode in common. */
  sameName: readonly string[];
  overlapping: readonly string[];
  /** Whether the clip lies in a roll whose copies are proved; `none` when it was read where it lies. */
  custody: 'proved' | 'unproved' | 'none';
}

/** One rule: its level, and what it says when it applies. */
export interface Rule {
  level: Level;
  /** The texts of a finding, or null when there is nothing to say. */
  look: (facts: FindingFacts) => Pick<Finding, 'text' | 'why' | 'remedy'> | null;
}
