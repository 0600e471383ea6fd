import type { HandedLine, HandoffState } from '@relay/contract/handoffs';
import type { LegState } from '@relay/contract/states';
import { StateMark } from '../ui/stateMark.tsx';
import { plural, sayBytes } from '../ui/format.ts';

/** Copying is what running is. */
const shapes: Readonly<Record<HandoffState, LegState>> = {
  waiting: 'waiting',
  copying: 'running',
  stopped: 'stopped',
  failed: 'failed',
  proved: 'proved',
};

/** How a hand-off stands, by its shape and in words. */
export function HandedState({ line }: { line: HandedLine }) {
  const { state, filesDone, files, bytesDone, bytes, left, lost } = line;
  const words: Readonly<Record<HandoffState, string>> = {
    waiting: 'waits for a worker',
    copying: `${filesDone} of ${files} files, ${sayBytes(bytesDone)} of ${sayBytes(bytes)}`,
    stopped: `stopped, ${filesDone} of ${files} files there`,
    failed: left > 0 ? `${plural(left, 'file')} left behind` : 'broke off',
    proved: `${plural(files, 'file')} proved, ${sayBytes(bytes)}`,
  };
  return (
    <span className="inline-flex items-center gap-2">
      <StateMark state={shapes[state]} word={false} />
      <span className="font-mono text-[12px]">{lost ? 'they lost it' : words[state]}</span>
    </span>
  );
}
