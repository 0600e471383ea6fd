import type { OutputLine } from '@relay/contract/checks';
import type { LegLine } from '@relay/contract/runs';
import type { LegState } from '@relay/contract/states';

/** How something made stands for whoever checks: as its proof says, unless somebody said otherwise. */
export type Standing = LegState | 'sent back' | 'accepted';

export function standingOf({ state, look }: Pick<OutputLine, 'state' | 'look'>): Standing {
  return look?.verdict ?? state;
}

/**
 * How a leg stands: what needed eyes is accepted once each output of it that did is, and sent back when one of its
 * outputs is.
 */
export function standingOfLeg({
  state,
  outputs,
}: Pick<LegLine, 'state'> & { outputs: readonly Pick<OutputLine, 'state' | 'look'>[] }): Standing {
  if (outputs.some(({ look }) => look?.verdict === 'sent back')) return 'sent back';
  const asking = outputs.filter((output) => output.state === 'needs eyes');
  const seen = asking.length > 0 && asking.every(({ look }) => look?.verdict === 'accepted');
  return state === 'needs eyes' && seen ? 'accepted' : state;
}
