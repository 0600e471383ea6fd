import type { OutputLine } from '@relay/contract/checks';
import { expect, it } from 'vitest';
import { standingOf, standingOfLeg } from './standing.ts';

const output = (
  state: OutputLine['state'],
  verdict?: 'accepted' | 'sent back',
): Pick<OutputLine, 'state' | 'look'> => ({
  state,
  look: verdict ? { verdict, note: '', frame: null, who: 'assistant', at: '2026-11-28T12:00:00Z' } : null,
});

it('an output stands as its proof says, unless somebody said otherwise', () => {
  expect([output('proved'), output('needs eyes', 'accepted'), output('proved', 'sent back')].map(standingOf)).toEqual([
    'proved',
    'accepted',
    'sent back',
  ]);
});

it('a leg needs eyes until each output that did is accepted', () => {
  const leg = (...outputs: Pick<OutputLine, 'state' | 'look'>[]) => standingOfLeg({ state: 'needs eyes', outputs });
  expect(leg(output('needs eyes', 'accepted'), output('needs eyes'))).toBe('needs eyes');
  expect(leg(output('needs eyes', 'accepted'), output('proved'))).toBe('accepted');
  expect(leg(output('needs eyes', 'sent back'), output('needs eyes', 'accepted'))).toBe('sent back');
  expect(leg()).toBe('needs eyes');
  expect(standingOfLeg({ state: 'failed', outputs: [output('failed')] })).toBe('failed');
});
