import type { MadeOfClip } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import { systemNames, type MemberSystem } from '@relay/core/naming/systemPath';
import { useQuery } from '@tanstack/react-query';
import { addressOf } from '../api/client.ts';
import { storesQuery } from '../api/queries.ts';
import { memberPlace, useMemberSystem } from '../ui/memberPlace.ts';
import { CopyButton } from '../ui/pieces.tsx';

interface ReachProps {
  output: Pick<MadeOfClip[number], 'id' | 'path' | 'store' | 'folder' | 'oneFile'>;
}

/** Where an output lies for whoever sits here, and the file itself. */
export function Reach({ output }: ReachProps) {
  const { data: stores } = useQuery(storesQuery);
  const [system, setSystem] = useMemberSystem();
  const store = stores?.find(({ id }) => id === output.store);
  const known = Object.keys(store?.elsewhere ?? {}) as MemberSystem[];
  const place = memberPlace(store, output.store, `${output.folder}/${output.path}`, system);
  const file = (keep: boolean): string =>
    addressOf(checkRows.file, { output: output.id, query: { keep: String(keep) } });
  return (
    <section aria-label="Reach" className="flex flex-col gap-1.5">
      <p className="flex items-start gap-1 font-mono text-[11px] text-dim">
        <span className="min-w-0 flex-1 break-all">{place}</span>
        <CopyButton text={place} label="Copy the path" />
      </p>
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {output.oneFile ? (
          <>
            <a className="underline underline-offset-4" href={file(true)} download>
              Download
            </a>
            <a className="underline underline-offset-4" href={file(false)} target="_blank" rel="noreferrer">
              Open
            </a>
          </>
        ) : (
          <span className="text-dim">A folder of files: copy it from there.</span>
        )}
        {known.length > 0 && (
          <select
            aria-label="Path for"
            value={system}
            onChange={({ target }) => setSystem(target.value as MemberSystem)}
            className="ml-auto rounded border border-line bg-sheet px-1 py-0.5"
          >
            {[...new Set([...known, 'linux' as const])].map((one) => (
              <option key={one} value={one}>
                {systemNames[one]}
              </option>
            ))}
          </select>
        )}
      </p>
    </section>
  );
}
