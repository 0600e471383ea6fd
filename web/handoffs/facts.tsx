import type { HandoffCheck } from '@relay/contract/handoffs';
import { plural, saySpan } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { Bytes, Fact, ProblemLine } from '../ui/pieces.tsx';

/** What a hand-off comes to, and what stands in its way. */
export function HandoffFacts({ check }: { check: HandoffCheck }) {
  const { files, bytes, freeBytes, seconds, held, replaced, toDelete, older, others, pairs } = check;
  return (
    <div aria-live="polite" className="flex flex-col gap-2">
      <dl>
        <Fact name="Will go" mono={false}>
          {files === 0 ? (
            'nothing'
          ) : (
            <>
              {plural(files, 'file')}, <Bytes value={bytes} />
              {check.originals > 0 && `, ${plural(check.originals, 'camera original')} among them`}
            </>
          )}
        </Fact>
        {held > 0 && (
          <Fact name="They hold" mono={false}>
            {held} of what is chosen, as it is now: not sent again
          </Fact>
        )}
        {seconds !== null && files > 0 && (
          <Fact name="Takes about" mono={false}>
            {saySpan(seconds)}, by this site’s own copies
          </Fact>
        )}
        {freeBytes !== null && (
          <Fact name="Free there" mono={false}>
            <Bytes value={freeBytes} />
            {freeBytes < bytes && <span className="text-rose"> too little</span>}
          </Fact>
        )}
        {pairs && (
          <Fact name="Swap" mono={false}>
            {pairs.swap} of {pairs.count} pairs of proxy and intermediate swap by path
          </Fact>
        )}
        {others.map(({ recipient, copies }) => (
          <Fact key={recipient} name="Stays here" mono={false}>
            {plural(copies, 'copy', 'copies')} marked for {recipient}
          </Fact>
        ))}
        {older > 0 && (
          <Fact name="Stays here" mono={false}>
            {plural(older, 'older version')}
          </Fact>
        )}
      </dl>
      {check.place && <ProblemLine problem={check.place} />}
      <Named title="Takes the place of what they have" lines={replaced.map((path) => ({ path, why: '' }))} />
      <Named title="They should delete" lines={toDelete.map((path) => ({ path, why: '' }))} />
      <Named title="Their system refuses" grave lines={check.hindrances} count={check.hindranceCount} />
      <Named title="Not sure yet" grave lines={check.notProved} count={check.notProvedCount} />
      <Named title="Still to decide" lines={check.undecided} count={check.undecidedCount} />
      <Named title="Pairs that do not swap" grave lines={pairs?.differ ?? []} />
    </div>
  );
}

interface NamedProps {
  title: string;
  lines: readonly { path: string; why: string }[];
  /** All of them, where lines are only the first. */
  count?: number;
  grave?: boolean;
}

/** A list that is there only where it says something. */
function Named({ title, lines, count = lines.length, grave = false }: NamedProps) {
  if (count === 0) return null;
  const head = `${title}: ${count}`;
  return (
    <details>
      <summary className="cursor-pointer">
        {grave && <LevelShape level="decide" className="mr-2" />}
        <span className={grave ? '' : 'text-dim'}>{head}</span>
      </summary>
      <ul className="mt-1 max-h-48 overflow-auto">
        {lines.map(({ path, why }, index) => (
          <li key={index} className="py-0.5 text-[12px] break-words">
            <span className="font-mono">{path}</span>
            {why !== '' && <span className="text-dim"> {why}</span>}
          </li>
        ))}
        {count > lines.length && <li className="text-faint">and {count - lines.length} more</li>}
      </ul>
    </details>
  );
}
