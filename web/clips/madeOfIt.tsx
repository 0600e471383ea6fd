import { checkRows } from '@relay/contract/routes/checks';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { madeOfClipQuery, storesQuery } from '../api/queries.ts';
import { memberPlace, useMemberSystem } from '../ui/memberPlace.ts';
import { Bytes, CopyButton } from '../ui/pieces.tsx';
import { standingOf } from '../ui/standing.ts';
import { Stands } from '../ui/stands.tsx';

/** What was made of a clip: to be played beside it, downloaded, or found where it lies. */
export function MadeOfIt({ clip, production }: { clip: string; production: string }) {
  const { data: outputs } = useQuery(madeOfClipQuery(clip));
  const { data: stores } = useQuery(storesQuery);
  const [system] = useMemberSystem();
  if (!outputs || outputs.length === 0) return null;
  return (
    <section aria-labelledby="made-title" className="flex flex-col gap-2">
      <h2 id="made-title" className="font-semibold">
        Made of it
      </h2>
      <ul className="flex flex-col gap-2">
        {outputs.map(({ id, deliverable, run, path, state, sizeBytes, look, store, folder, oneFile }) => {
          const place = memberPlace(
            stores?.find((one) => one.id === store),
            store,
            `${folder}/${path}`,
            system,
          );
          return (
            <li key={id} className="border-t border-line pt-2">
              <p className="flex items-center justify-between gap-2">
                <span className="min-w-0 break-words">
                  {deliverable} <span className="text-dim">{run}</span>
                </span>
                <span className="flex shrink-0 items-center gap-2">
                  <Bytes value={sizeBytes} />
                  <Stands as={standingOf({ state, look })} word={false} />
                </span>
              </p>
              <p className="flex items-start gap-1 font-mono text-[11px] text-faint">
                <span className="min-w-0 flex-1 break-all">{path}</span>
                <CopyButton text={place} label="Copy the path" />
              </p>
              <p className="flex gap-4">
                <Link className="underline underline-offset-4" to={`/p/${production}/checks/${id}`}>
                  Play beside it
                </Link>
                {oneFile && (
                  <a
                    className="underline underline-offset-4"
                    href={addressOf(checkRows.file, { output: id, query: { keep: 'true' } })}
                    download
                  >
                    Download
                  </a>
                )}
              </p>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
