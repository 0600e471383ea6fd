import type { Holdings } from '@relay/contract/handoffs';
import { plural } from '../ui/format.ts';
import { Bytes } from '../ui/pieces.tsx';

/** What every receiver holds: of how many clips of each roll they have something. */
export function HoldingsTable({ holdings: { rolls, receivers } }: { holdings: Holdings }) {
  if (receivers.length === 0) return null;
  return (
    <section aria-label="Who holds what" className="min-w-0">
      <h2 className="mb-3 text-lg font-semibold">Who holds what</h2>
      <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Receivers and rolls">
        <table className="border-collapse text-left">
          <thead>
            <tr className="text-dim">
              <th scope="col" className="sticky left-0 bg-sheet py-1.5 pr-6 font-normal">
                Receiver
              </th>
              {rolls.map(({ name }) => (
                <th key={name} scope="col" className="px-2 py-1.5 font-mono text-[12px] font-normal whitespace-nowrap">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {receivers.map(({ id, name, handoffs, bytes, clips }) => (
              <tr key={id} className="border-t border-line">
                <th scope="row" className="sticky left-0 max-w-64 bg-sheet py-2 pr-6 font-semibold break-words">
                  {name}
                  <span className="block font-normal text-dim">
                    {plural(handoffs, 'hand-off')}, <Bytes value={bytes} />
                  </span>
                </th>
                {rolls.map((roll) => (
                  <Share key={roll.name} have={clips[roll.name] ?? 0} of={roll.clips} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** How much of a roll somebody has, as a number and as a filled lane. */
function Share({ have, of }: { have: number; of: number }) {
  return (
    <td className="px-2 py-2 align-top font-mono text-[12px]">
      <span className={have === 0 ? 'text-faint' : ''}>
        {have} of {of}
      </span>
      <span aria-hidden className="mt-1 block h-1 w-14 rounded-full bg-lane">
        <span
          className={`block h-1 rounded-full ${have >= of ? 'bg-teal' : 'bg-sky'}`}
          style={{ width: `${Math.min(100, (100 * have) / Math.max(1, of))}%` }}
        />
      </span>
    </td>
  );
}
