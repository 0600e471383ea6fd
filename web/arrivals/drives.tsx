import type { ReturnedDrive } from '@relay/contract/handoffs';
import { handoffRows } from '@relay/contract/routes/handoffs';
import type { RootAnswer } from '@relay/contract/site';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { settled } from '../api/places.ts';
import { returnedDrivesQuery, rootsQuery } from '../api/queries.ts';
import { sayBytes } from '../ui/format.ts';
import { Button, toastProblem } from '../ui/pieces.tsx';

interface DrivesProps {
  production: string;
  onBring: (card: { store: string; folder: string }) => void;
  onRead: (root: string) => void;
}

/** Cards and drives that are mounted on this machine, as they come and go. */
export function Drives({ production, onBring, onRead }: DrivesProps) {
  const { data: roots = [] } = useQuery(rootsQuery);
  const bring = useMutation({
    mutationFn: (drive: RootAnswer) => settled({ store: '', folder: '', root: drive.path }, 'bring in'),
    onSuccess: onBring,
    onError: toastProblem,
  });
  const { data: returned = [] } = useQuery(returnedDrivesQuery(production));
  const drives = roots.filter((root) => root.kind !== 'folder');
  if (drives.length === 0) return null;
  return (
    <section aria-labelledby="drives-title">
      <h3 id="drives-title" className="mb-2 font-semibold text-dim">
        Cards and drives here
      </h3>
      <ul className="flex flex-wrap gap-3">
        {drives.map((drive) => (
          <li
            key={drive.path}
            className="flex min-h-[76px] w-60 flex-col justify-between gap-1.5 rounded-lg border border-line bg-raised px-3 py-2"
          >
            <span className="flex items-baseline justify-between gap-2">
              <span className="truncate font-mono" title={drive.path}>
                {drive.name}
              </span>
              <span className="shrink-0 text-faint">
                {drive.kind}
                {drive.totalBytes === null ? '' : `, ${sayBytes(drive.totalBytes)}`}
              </span>
            </span>
            <span className="flex gap-2">
              <Button className="h-7 px-2.5" disabled={bring.isPending} onClick={() => bring.mutate(drive)}>
                Bring in…
              </Button>
              <Button className="h-7 px-2.5" onClick={() => onRead(drive.path)}>
                Read in place…
              </Button>
            </span>
            {returned
              .filter(({ root }) => root === drive.path)
              .map((one) => (
                <CameBack key={one.handoff} production={production} drive={one} />
              ))}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A drive that was handed off and is here again: what was sent is verified, and what came on it is shown. */
function CameBack({ production, drive }: { production: string; drive: ReturnedDrive }) {
  const client = useQueryClient();
  const go = useNavigate();
  const verify = useMutation({
    mutationFn: () => ask(handoffRows.verify, { handoff: drive.handoff, body: { root: drive.root } }),
    onSuccess: async () => {
      await Promise.all(
        ['handoffs', 'stores', 'roots', 'site'].map((key) => client.invalidateQueries({ queryKey: [key] })),
      );
      void go(`/p/${production}/handoffs/${drive.handoff}`);
    },
    onError: toastProblem,
  });
  return (
    <span className="mt-2 flex flex-col gap-1.5 border-t border-line pt-2">
      <span className="min-w-0 break-words">
        Is back from {drive.receiver}: <span className="text-dim">{drive.name}</span>
      </span>
      <span>
        <Button main className="h-7 px-2.5" disabled={verify.isPending} onClick={() => verify.mutate()}>
          Verify what was sent
        </Button>
      </span>
    </span>
  );
}
