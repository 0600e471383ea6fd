import type { Proof, Verdict } from '@relay/core/proof/proof';
import type { Problem } from '@relay/core/result';

/** How a leg or one of its outputs ended. */
export type EndState = Verdict | 'stopped';

/** One output in the result of a run. */
export interface OutputResult {
  deliverable: string;
  role: string;
  /** Below the run's folder. */
  path: string;
  state: EndState;
  alreadyThere: boolean;
  sizeBytes: number;
  xxh3: string | null;
  proof: Proof | null;
  problem: Problem | null;
}

/** What `./relay run --json` prints an array of, one for each clip, sorted by path. */
export interface RunResult {
  /** Path of the original below the source folder. */
  original: string;
  state: EndState;
  /** What was done to it, in plain sentences. */
  said: string[];
  outputs: OutputResult[];
  problem: Problem | null;
}
