import type { RunAnswer } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import { stretches } from '@relay/core/size/lanes';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { siteQuery } from '../api/queries.ts';
import { timed, type NightPlan } from './runFigures.ts';

/** The clock, a second at a time while something is under way. */
function useNow(ticking: boolean, offset: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!ticking) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [ticking]);
  return now + offset;
}

/** When each leg of a run is or will be made, by the workers there are, and the server's clock as it goes on. */
export function useRunPlan(run: RunAnswer | undefined, answeredAt: number): { plan: NightPlan; now: number } {
  const { data: site } = useQuery(siteQuery);
  const legs = run?.legLines;
  // What workers there are take at a time; one lane where none is, so that the night can be seen all the same.
  const slots = Math.max(
    1,
    (site?.workers ?? []).reduce((sum, worker) => sum + worker.slots, 0),
  );
  // The server's clock may differ from this screen's.
  const offset = run ? Math.max(-1e9, Math.min(1e9, Date.parse(run.now) - answeredAt)) : 0;
  const open = legs?.some((leg) => openStates.includes(leg.state)) ?? false;
  const now = useNow(open, Math.abs(offset) > 2_000 ? offset : 0);
  const plan = useMemo(
    () => stretches((legs ?? []).map(timed), now, slots, site?.quietStretches),
    [legs, now, slots, site?.quietStretches],
  );
  return { plan, now };
}
