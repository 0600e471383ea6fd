import type { Helpers, SegmentKeeper } from '@relay/work/leg/segments';
import type PgBoss from 'pg-boss';
import type { DataSource } from 'typeorm';
import { patiently } from '../db/dataSource.ts';
import { queueLegs } from '../queue/boss.ts';
import {
  beatSegment,
  claimOwnSegment,
  dealSegments,
  dropSegments,
  endSegment,
  idleSlots,
  segmentsOf,
  type ClaimedSegment,
} from './segmentClaims.ts';

/** A leg's helpers through the database, which may be away for a moment; the queue is told that there is work. */
export function helpersOf(db: DataSource, boss: PgBoss, leg: string, worker: string, host: string): Helpers {
  let idle = 0;
  return {
    idle: async () => (idle = await patiently(() => idleSlots(db, leg, host))),
    deal: async (segments, tunings) => {
      await patiently(() => dealSegments(db, leg, segments, tunings));
      await patiently(() =>
        queueLegs(
          boss,
          Array.from({ length: Math.min(idle, segments.length - 1) }, () => leg),
          true,
        ),
      );
    },
    claim: () => patiently(() => claimOwnSegment(db, leg, worker)),
    beat: (place, framesDone) => beatSegment(db, leg, place, worker, framesDone),
    end: (place, end) => patiently(() => endSegment(db, leg, place, worker, end)),
    now: () => patiently(() => segmentsOf(db, leg)),
    drop: () => patiently(() => dropSegments(db, leg, worker)),
  };
}

/** Who keeps count of a segment that a worker took: the database, which may be away for a moment. */
export function keeperOf(db: DataSource, { leg, place }: ClaimedSegment, worker: string): SegmentKeeper {
  return {
    beat: (framesDone) => beatSegment(db, leg, place, worker, framesDone),
    end: (end) => patiently(() => endSegment(db, leg, place, worker, end)),
  };
}
