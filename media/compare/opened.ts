import { toNumber } from '@relay/core/time/rational';
import { inStep } from './inStep.ts';
import type { Side } from './side.ts';
import { justBefore } from '../process/seek.ts';

/**
 * Arguments that open a side's pictures at an output's frame, and filters after which each has its time, counted from
 * that frame. `whole` opens it at its beginning, for streams that cannot be sought.
 */
export function openedAt(side: Side, frame: number, whole: boolean): { args: string[]; filters: string[] } {
  const { from, filters } = inStep(side.time, whole ? 0 : frame);
  const past = 'frame' in from ? justBefore(from.frame, toNumber(side.time.fileRate)) : from.second;
  const turns = [[], ['transpose=clock'], ['hflip', 'vflip'], ['transpose=cclock']] as const;
  const { quarters, across, down } = side.turn;
  return {
    args: [...(past > 0 ? ['-ss', (side.startSeconds + past).toFixed(6)] : []), ...side.picture],
    filters: [
      ...filters,
      ...(whole && frame > 0 ? [`trim=start_pts=${frame}`, `setpts=PTS-${frame}`] : []),
      ...(turns[quarters] ?? []),
      ...(across ? ['hflip'] : []),
      ...(down ? ['vflip'] : []),
    ],
  };
}
