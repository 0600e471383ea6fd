import type { RehearsalAnswer } from '@relay/contract/cuts';
import { EventDocket } from './docket.tsx';
import { PullDocket } from './pullDocket.tsx';
import { SwapDocket } from './swapDocket.tsx';

interface BesideProps {
  /** What the address says: `do` is *pull*, or *swap* with a run; `event` is one of them. */
  asked: URLSearchParams;
  production: string;
  rehearsal: RehearsalAnswer;
  onClose: () => void;
}

/** What stands beside a cut: an event, a pull that is being prepared, or the cut on what was pulled. */
export function Beside({ asked, production, rehearsal, onClose }: BesideProps) {
  const [what, run] = (asked.get('do') ?? '').split(' ');
  if (what === 'pull') return <PullDocket production={production} rehearsal={rehearsal} onClose={onClose} />;
  if (what === 'swap' && run) return <SwapDocket key={run} run={run} onClose={onClose} />;
  const event = rehearsal.events[Number(asked.get('event') ?? NaN)];
  return event ? <EventDocket version={rehearsal.version.id} production={production} event={event} /> : null;
}
