import type { HandedAnswer } from '@relay/contract/handoffs';
import { plural, sayClock } from '../ui/format.ts';
import { CopyButton, ProblemLine } from '../ui/pieces.tsx';
import { Returned } from './returned.tsx';

/** What a person wants to know beside the list. */
export function HandedBeside({ production, handed }: { production: string; handed: HandedAnswer }) {
  const { problem, problems, exchange, pairs, toDelete, events, manifest, readFromDisk, state } = handed;
  return (
    <div className="flex min-h-0 flex-col gap-5 overflow-auto">
      {problem && <ProblemLine problem={problem} />}
      <Returned production={production} handed={handed} />
      {problems.length > 0 && (
        <section aria-label="Left behind">
          <h2 className="mb-1 font-semibold">Left behind: {problems.length}</h2>
          <ul>
            {problems.slice(0, 200).map(({ path, what, remedy }) => (
              <li key={path} className="border-t border-line py-1.5 break-words">
                {what}
                <span className="block text-dim">{remedy}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {state === 'proved' && (
        <p className="text-dim">
          {readFromDisk
            ? 'Read back from the drive itself.'
            : 'Read back through memory only: this file system allows no other way.'}{' '}
          {manifest !== null && (
            <>
              The manifest is <code className="break-all">{manifest}</code>; <code>./relay verify</code> proves the
              folder on any machine.
            </>
          )}
        </p>
      )}
      {pairs && (
        <section aria-label="Swap">
          <h2 className="mb-1 font-semibold">
            {pairs.swap} of {plural(pairs.count, 'pair')} swap by path
          </h2>
          {exchange.map(({ system, low, high }) => (
            <div key={system} className="border-t border-line py-1.5">
              <span className="text-dim">{system}</span>
              {[low, high].map((path) => (
                <span key={path} className="flex items-center gap-1 font-mono text-[12px]">
                  <span className="min-w-0 break-all">{path}</span>
                  <CopyButton text={path} label={`Copy ${path}`} />
                </span>
              ))}
            </div>
          ))}
          {exchange.length === 0 && pairs.roots && (
            <p className="text-dim">
              Exchange <code>{pairs.roots.low || '.'}</code> for <code>{pairs.roots.high || '.'}</code>.
            </p>
          )}
          {pairs.differ.map(({ path, why }) => (
            <p key={path} className="break-words">
              <span className="font-mono text-[12px]">{path}</span> <span className="text-dim">{why}</span>
            </p>
          ))}
        </section>
      )}
      {toDelete.length > 0 && (
        <section aria-label="To delete">
          <h2 className="mb-1 font-semibold">They should delete: {toDelete.length}</h2>
          <ul className="max-h-40 overflow-auto font-mono text-[12px]">
            {toDelete.slice(0, 500).map((path) => (
              <li key={path} className="break-all">
                {path}
              </li>
            ))}
          </ul>
        </section>
      )}
      <section aria-label="What happened to it">
        <h2 className="mb-1 font-semibold">What happened to it</h2>
        <ul>
          {events.map(({ at, who, what }, index) => (
            <li key={index} className="border-t border-line py-1.5 break-words">
              <span className="font-mono text-[12px] text-faint">
                {at.slice(0, 10)} {sayClock(new Date(at))}
              </span>{' '}
              {what} <span className="text-dim">({who})</span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
