import type { SiteAnswer } from '@relay/contract/site';
import { minutesUntilWork, quietStretches } from '@relay/core/site/quietHours';
import { isolated } from '@relay/media/process/sandbox';
import type { DataSource } from 'typeorm';
import type { Context } from '../context.ts';
import { liveWorkers } from '../queue/roster.ts';
import { clockOffset, setting } from './settings.ts';
import { storeAnswers } from './stores.ts';

interface Pace {
  legsOpen: number;
  legsRunning: number;
  framesLeft: number;
  /** Of the last legs that ended within a day; null where none did. */
  framesPerSecond: number | null;
}

async function paceOf(db: DataSource): Promise<Pace> {
  const [row] = await db.query<Pace[]>(`
    SELECT count(*)::int AS "legsOpen",
      count(*) FILTER (WHERE state IN ('running', 'proving'))::int AS "legsRunning",
      coalesce(sum(greatest(0, frames_total - frames_done)), 0)::float AS "framesLeft",
      (SELECT sum(frames_total)::float / nullif(sum(extract(epoch FROM ended_at - started_at))::float, 0)
       FROM (
         SELECT frames_total, started_at, ended_at
         FROM leg
         WHERE state IN ('proved', 'needs eyes') AND ended_at > now() - interval '1 day'
         ORDER BY ended_at DESC
         LIMIT 20
       ) recent) AS "framesPerSecond"
    FROM leg
    WHERE state IN ('waiting', 'running', 'proving')`);
  return row ?? { legsOpen: 0, legsRunning: 0, framesLeft: 0, framesPerSecond: null };
}

/** Seconds until everything queued is done: what the last legs took, shared by as many as are under way now. */
function secondsLeft({ legsOpen, legsRunning, framesLeft, framesPerSecond }: Pace): number | null {
  return legsOpen > 0 && framesPerSecond ? framesLeft / framesPerSecond / Math.max(1, legsRunning) : null;
}

/** The whole site as it is now. */
export async function siteNow(context: Context): Promise<SiteAnswer> {
  const { db } = context;
  const [pace, quiet, isolation, now] = [await paceOf(db), await setting(db, 'quiet'), await isolated(), new Date()];
  const left = secondsLeft(pace);
  return {
    stores: await storeAnswers(context),
    legsOpen: pace.legsOpen,
    legsRunning: pace.legsRunning,
    workers: await liveWorkers(db),
    quiet,
    quietNow: quiet !== null && minutesUntilWork(quiet, now.getHours() * 60 + now.getMinutes()) > 0,
    quietStretches: quietStretches(quiet, now.getTime(), clockOffset(now)),
    clock: now.toTimeString().slice(0, 5),
    isolation: isolation.works ? null : isolation.why,
    readyAt: left === null ? null : new Date(Date.now() + left * 1000).toISOString(),
  };
}
