import type { Proof } from '@relay/core/proof/proof';
import { LevelMark } from './levelMark.tsx';

/**
 * The comparisons of an output with its plan, what was planned beside what was found. What does not hold comes first.
 */
export function ProofTable({ proof }: { proof: Proof }) {
  const rows = [...proof.comparisons].sort((a, b) => Number(a.holds) - Number(b.holds));
  return (
    <table className="w-full text-left">
      <thead className="text-dim">
        <tr>
          <th className="py-1 font-normal">Compared</th>
          <th className="py-1 text-right font-normal">Planned</th>
          <th className="py-1 text-right font-normal">Found</th>
          <th className="sr-only">Holds</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name} className="border-t border-line/70 align-baseline">
            <td className="py-1 pr-2">{row.name}</td>
            <td className="py-1 pr-2 text-right font-mono break-words text-dim">{row.planned}</td>
            <td className={`py-1 text-right font-mono break-words ${row.holds ? '' : 'text-amber'}`}>{row.found}</td>
            <td className="py-1 pl-2">
              {row.holds ? (
                <span role="img" aria-label="holds" className="inline-block size-2 rounded-full bg-teal" />
              ) : (
                <LevelMark level="decide" label="does not hold" />
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
