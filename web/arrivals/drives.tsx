import type { RootAnswer } from '@relay/contract/site';
import { useMutation, useQuery } from '@tanstack/react-query';
import { settled } from '../api/places.ts';
import { rootsQuery } from '../api/queries.ts';
import { sayBytes } from '../ui/format.ts';
import { Button, toastProblem } from '../ui/pieces.tsx';

interface DrivesProps {
  onBring: (card: { store: string; folder: string }) => void;
  onRead: (root: string) => void;
}

/** Cards and drives that are mounted on this machine, as they come and go. */
export function Drives({ onBring, onRead }: DrivesProps) {
  const { data: roots = [] } = useQuery(rootsQuery);
  const bring = useMutation({
    mutationFn: (drive: RootAnswer) => settled({ store: '', folder: '', root: drive.path }, 'bring in'),
    onSuccess: onBring,
    onError: toastProblem,
  });
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
            className="flex min-h-[76px] w-60 flex-col justify-between rounded-lg border border-line bg-raised px-3 py-2"
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
          </li>
        ))}
      </ul>
    </section>
  );
}
