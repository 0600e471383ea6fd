import { type ReelLine, type RunAnswer } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import { plural } from '../ui/format.ts';
import { Bytes, CopyButton } from '../ui/pieces.tsx';
import { StateMark } from '../ui/stateMark.tsx';

interface ReelsProps {
  run: RunAnswer;
  placeOf: (path: string) => string;
  onJoin: (deliverable: string) => void;
}

/** Review copies of a run that has ended, joined into one file on purpose; and the reels that there are. */
export function Reels({ run, placeOf, onJoin }: ReelsProps) {
  const ended = !run.legLines.some((leg) => openStates.includes(leg.state));
  const review = [
    ...new Set(
      run.legLines.flatMap(({ outputs }) =>
        outputs
          .filter(({ role, state }) => role === 'review' && state === 'proved')
          .map(({ deliverable }) => deliverable),
      ),
    ),
  ];
  const wanted = ended
    ? review.filter(
        (deliverable) => !run.reels.some((reel) => reel.deliverable === deliverable && reel.state !== 'failed'),
      )
    : [];
  if (wanted.length === 0 && run.reels.length === 0) return null;
  return (
    <div className="flex flex-col gap-1 px-6 pb-4">
      {run.reels.map((reel) => (
        <Reel key={reel.id} reel={reel} place={placeOf(reel.path)} />
      ))}
      {wanted.map((deliverable) => (
        <p key={deliverable}>
          <button
            type="button"
            onClick={() => onJoin(deliverable)}
            className="underline underline-offset-4 hover:text-ink"
          >
            Join the {deliverable.toLowerCase()} copies into one reel
          </button>{' '}
          <span className="text-faint">in the order of the lanes, a chapter each</span>
        </p>
      ))}
    </div>
  );
}

function Reel({ reel, place }: { reel: ReelLine; place: string }) {
  return (
    <p className="flex flex-wrap items-center gap-x-3">
      <StateMark state={reel.state} />
      <span>
        {reel.deliverable} reel of {plural(reel.parts, 'clip')}
      </span>
      {reel.sizeBytes > 0 && <Bytes value={reel.sizeBytes} />}
      <span className="font-mono text-[11px] text-faint">{reel.path}</span>
      {reel.state === 'proved' && <CopyButton text={place} label="Copy the reel's path" />}
      {reel.problem && (
        <span className="text-dim">
          {reel.problem.what}. {reel.problem.remedy}.
        </span>
      )}
    </p>
  );
}
