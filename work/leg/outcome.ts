import type { EndState, OutputResult } from '@relay/contract/run';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { RelinkRow } from '@relay/core/relink/sheet';
import type { Problem } from '@relay/core/result';
import type { LikeClips } from '@relay/core/size/likeClips';
import type { LegProgress } from '@relay/media/leg/perform';
import type { Root } from '../disk/held.ts';
import type { LutText } from './colour.ts';
import type { OutRoots } from './outputPlace.ts';
import type { ImageBytes } from './ready.ts';
import type { Helpers } from './segments.ts';

export interface LegResult {
  state: EndState;
  outputs: OutputResult[];
  problem: Problem | null;
  originalXxh3: string | null;
  /** What was done and said, line by line with the time of day. */
  log: string[];
  /** Nothing moved for a minute: it may go better elsewhere. */
  stalled: boolean;
}

/** What a leg needs of its surroundings; the worker and the command line each bring their own. */
export interface LegSurroundings extends OutRoots {
  /** The folder that was read, which the original lies below. */
  sourceRoot: Root;
  /** Marks temporary files as this leg's. */
  owner: string;
  /** Name of the folder that was read, for the relink sheet's roll. */
  whole: string;
  signal?: AbortSignal;
  /** Where the chains' LUTs are kept; absent where no chain names one. */
  lutText?: LutText;
  /** Where pictures that burn-ins lay over are kept; absent where none is. */
  imageBytes?: ImageBytes;
  /** What was written down of an output of this path and place before, if anything. */
  recorded: (path: string, place?: OutputPlace) => Promise<RecordedOutput | null>;
  /** Keeps an output's line; called before it gets its final name, so that a crash between the two can be told. */
  record: (row: RelinkRow, place?: OutputPlace) => Promise<void>;
  onProgress?: (progress: LegProgress) => void;
  onState?: (state: 'running' | 'proving') => void;
  /** Who may help with a long leg; absent where it is made alone. */
  helpers?: Helpers;
  /** What was found of the clips that went before; absent where each is sampled. */
  likeClips?: LikeClips;
  /** Takes a line of the leg's log. */
  note?: (line: string) => void;
}

/** An output as an earlier leg wrote it down. */
export interface RecordedOutput {
  xxh3: string;
  state: string;
  /** Of the plan that it was made to; null or absent where it was made before there were marks. */
  planMark?: string | null;
}

/** What to do about what stood still. */
export const stalledRemedy = 'Look at the original and its log; retry, perhaps on another machine';

const graveness: readonly EndState[] = ['proved', 'needs eyes', 'stopped', 'failed'];

export function gravest(states: readonly EndState[]): EndState {
  return states.reduce<EndState>((a, b) => (graveness.indexOf(b) > graveness.indexOf(a) ? b : a), 'proved');
}

export function resultOf(plan: OutputPlan, state: EndState, rest: Partial<OutputResult> = {}): OutputResult {
  return {
    deliverable: plan.deliverable,
    role: plan.role,
    path: plan.path,
    state,
    alreadyThere: false,
    sizeBytes: 0,
    xxh3: null,
    proof: null,
    problem: null,
    ...rest,
  };
}

export function takenProblem(path: string): Problem {
  return {
    what: `${path} is there already and was left as it is`,
    remedy: 'Move it away or choose another folder, then retry',
  };
}
