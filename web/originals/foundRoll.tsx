import type { FoundRoll } from '@relay/contract/originals';
import { plural } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';

/** Of one roll: how many files fit and by what that is known, where they lie, and what does not fit and why. */
export function FoundRollFacts({ roll }: { roll: FoundRoll }) {
  const { files, samples, manifest, size, same, misfitCount, misfits, roots } = roll;
  const fit = samples + manifest + size;
  const by = [
    ...(samples > 0 ? [`${samples} by content`] : []),
    ...(manifest > 0 ? [`${manifest} by the manifest there`] : []),
    ...(size > 0 ? [`${size} by name and size alone`] : []),
  ];
  return (
    <section aria-label={roll.roll} className="border-t border-line pt-3">
      <h3 className="flex flex-wrap items-baseline gap-x-2 font-semibold">
        {misfitCount > 0 && <LevelShape level={fit === 0 ? 'stop' : 'decide'} />}
        <span className="break-words">{roll.roll}</span>
        <span className="font-normal text-dim">
          {fit > 0
            ? `${fit} of ${plural(files, 'file')} found`
            : same > 0
              ? `${same} of ${plural(files, 'file')} lie where they did`
              : `none of ${plural(files, 'file')} found`}
        </span>
      </h3>
      {by.length > 0 && <p className="text-dim">{by.join(', ')}</p>}
      {fit > 0 && same > 0 && <p className="text-dim">{plural(same, 'other')} lie where they did</p>}
      {roots.map((root) => (
        <p key={root} className="font-mono text-[12px] break-all text-faint">
          {root || 'the store itself'}
        </p>
      ))}
      {misfitCount > 0 && (
        <details className="mt-1" open={misfitCount <= 5}>
          <summary className="cursor-pointer text-dim">
            {plural(misfitCount, 'file')} that {misfitCount === 1 ? 'does' : 'do'} not fit
          </summary>
          <ul className="max-h-60 overflow-auto">
            {misfits.map(({ path, why }) => (
              <li key={path} className="border-t border-line py-1.5 text-[12px]">
                <span className="font-mono break-all">{path}</span> <span className="text-dim">{why}</span>
              </li>
            ))}
          </ul>
          {misfits.length < misfitCount && <p className="text-faint">and {misfitCount - misfits.length} more</p>}
        </details>
      )}
    </section>
  );
}
