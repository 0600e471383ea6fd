import type { ReadingAnswer, RollState } from './arrivals.ts';
import type { HandoffState } from './handoffs.ts';
import type { LegState } from './states.ts';

/** What the server sends down `/api/live`. */
export type LiveMessage =
  | {
      kind: 'leg';
      run: string;
      leg: string;
      state: LegState;
      framesDone: number;
      framesTotal: number;
      speed: number | null;
    }
  | { kind: 'reading'; production: string; reading: string; done: number; total: number; state: ReadingAnswer['state'] }
  | {
      kind: 'roll';
      production: string;
      roll: string;
      state: RollState;
      files: number;
      filesDone: number;
      bytes: number;
      bytesDone: number;
    }
  | ({ kind: 'handoff'; production: string; handoff: string; state: HandoffState } & Record<
      'files' | 'filesDone' | 'bytes' | 'bytesDone',
      number
    >)
  /** All that an inlet had in hand has ended. */
  | { kind: 'inlet'; production: string; inlet: string; name: string; made: number; left: number; eyes: number }
  | {
      kind: 'changed';
      what:
        'clips' | 'rolls' | 'runs' | 'productions' | 'stores' | 'inlets' | 'cuts' | 'handoffs' | 'originals' | 'space';
      production: string | null;
    };
