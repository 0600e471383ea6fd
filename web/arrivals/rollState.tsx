import type { RollLine, RollState } from '@relay/contract/arrivals';
import type { ReactElement } from 'react';
import { StateMark } from '../ui/stateMark.tsx';

const marks: Readonly<Record<RollState, Parameters<typeof StateMark>[0]['state']>> = {
  waiting: 'waiting',
  copying: 'running',
  paused: 'held',
  stopped: 'stopped',
  failed: 'failed',
  proved: 'proved',
};

/** How a roll stands: a mark, and a sentence that ends with whether its card may be cleared. */
export function rollLook(roll: RollLine): { mark: ReactElement; says: string } {
  const differs = roll.copies.some((copy) => copy.verification && !copy.verification.verified);
  const mark = (
    <StateMark
      state={differs ? 'failed' : roll.state === 'proved' && !roll.clearing.clear ? 'needs eyes' : marks[roll.state]}
      word={false}
    />
  );
  const done = `${roll.filesDone} of ${roll.files} files`;
  switch (roll.state) {
    case 'waiting':
      return { mark, says: 'Waits for a worker. Keep the card' };
    case 'copying':
      return { mark, says: `Copying and proving, ${done}. Keep the card` };
    case 'paused':
    case 'stopped':
      return { mark, says: `${roll.state === 'paused' ? 'Paused' : 'Stopped'} at ${done}. Keep the card` };
    case 'failed':
    case 'proved':
      return { mark, says: roll.clearing.says };
  }
}
