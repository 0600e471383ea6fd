import { type JoinedCopyLine, type RunAnswer } from '@relay/contract/runs';
import { openStates } from '@relay/contract/states';
import { plural } from '../ui/format.ts';
import { Bytes, CopyButton } from '../ui/pieces.tsx';
import { StateMark } from '../ui/stateMark.tsx';
import type { PlaceOf } from '../ui/memberPlace.ts';

interface JoinedCopiesProps {
  run: RunAnswer;
  placeOf: PlaceOf;
  onJoin: (deliverable: string) => void;
}

/** Review copies of a run that has ended, joined into one file on purpose; and those that there are. */
export function JoinedCopies({ run, placeOf, onJoin }: JoinedCopiesProps) {
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
        (deliverable) => !run.joinedCopies.some((copy) => copy.deliverable === deliverable && copy.state !== 'failed'),
      )
    : [];
  if (wanted.length === 0 && run.joinedCopies.length === 0) return null;
  return (
    <div className="flex flex-col gap-1 px-6 pb-4">
      {run.joinedCopies.map((copy) => (
        <Joined key={copy.id} copy={copy} place={placeOf(copy.path, copy.deliverable)} />
      ))}
      {wanted.map((deliverable) => (
        <p key={deliverable}>
          <button
            type="button"
            onClick={() => onJoin(deliverable)}
            className="underline underline-offset-4 hover:text-ink"
          >
            Join the {deliverable.toLowerCase()} copies into one file
          </button>{' '}
          <span className="text-faint">in the order of the lanes, a chapter each</span>
        </p>
      ))}
    </div>
  );
}

function Joined({ copy, place }: { copy: JoinedCopyLine; place: string }) {
  return (
    <p className="flex flex-wrap items-center gap-x-3">
      <StateMark state={copy.state} />
      <span>
        {copy.deliverable}, joined of {plural(copy.parts, 'clip')}
      </span>
      {copy.sizeBytes > 0 && <Bytes value={copy.sizeBytes} />}
      <span className="font-mono text-[11px] text-faint">{copy.path}</span>
      {copy.state === 'proved' && <CopyButton text={place} label="Copy its path" />}
      {copy.problem && (
        <span className="text-dim">
          {copy.problem.what}. {copy.problem.remedy}.
        </span>
      )}
    </p>
  );
}
