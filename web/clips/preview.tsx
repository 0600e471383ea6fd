import type { IdentityPreview } from '@relay/contract/clips';
import type { Identity } from '@relay/core/identity/identity';
import { plural } from '../ui/format.ts';

function say(identity: Partial<Identity>): string {
  return Object.entries(identity)
    .map(([field, value]) => (field === 'circled' ? (value ? 'circled' : 'not circled') : (value ?? '–')))
    .join(' · ');
}

/**
 * What would change, clip by clip, before it does: now and then beside each other, what is refused, what would clash.
 */
export function PreviewTable({ preview }: { preview: IdentityPreview }) {
  const changing = preview.rows.filter((row) => row.changes);
  return (
    <div className="flex flex-col gap-3">
      <p role="status">
        {plural(changing.length, 'clip')} would change
        {preview.empty > 0 && (
          <span className="text-amber">, {preview.empty} where nothing is found stay as they are</span>
        )}
        {preview.clashes > 0 && (
          <span className="text-amber">
            , {plural(preview.clashes, 'clash', 'clashes')}: same scene, take and camera, or same reel and timecode
          </span>
        )}
      </p>
      {preview.refused.length > 0 && (
        <div>
          <p className="text-rose">{plural(preview.refused.length, 'row is', 'rows are')} refused</p>
          <ul className="max-h-32 overflow-auto text-dim">
            {preview.refused.map((row) => (
              <li key={row.row}>
                <span className="font-mono">row {row.row}</span> {row.why}
              </li>
            ))}
          </ul>
        </div>
      )}
      {preview.ignored.length > 0 && (
        <p className="text-dim">Columns that are not taken in: {preview.ignored.join(', ')}.</p>
      )}
      <div className="max-h-[46vh] overflow-auto rounded-md border border-line">
        <table className="w-full text-left">
          <thead className="sticky top-0 bg-sheet text-dim">
            <tr>
              <th className="px-2 py-1 font-normal">Clip</th>
              <th className="px-2 py-1 font-normal">Now</th>
              <th className="px-2 py-1 font-normal">Then</th>
            </tr>
          </thead>
          <tbody>
            {preview.rows.slice(0, 2_000).map((row) => (
              <tr key={row.clip} className="border-t border-line/70 align-baseline">
                <td className="px-2 py-1 break-all">{row.stem}</td>
                <td className="px-2 py-1 font-mono break-all text-dim">{say(row.before) || '–'}</td>
                <td className={`px-2 py-1 font-mono break-all ${row.changes ? '' : 'text-faint'}`}>
                  {row.changes ? say(row.after) : 'as it is'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
