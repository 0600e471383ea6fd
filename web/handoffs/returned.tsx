import type { HandedAnswer } from '@relay/contract/handoffs';
import { cutRows } from '@relay/contract/routes/cuts';
import { handoffRows } from '@relay/contract/routes/handoffs';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { plural, sayClock } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { Button, ProblemLine, toastProblem } from '../ui/pieces.tsx';

/** Has the drive looked at again: when it comes back, or before it leaves. */
export function VerifyButton({ handed }: { handed: HandedAnswer }) {
  const client = useQueryClient();
  const verify = useMutation({
    mutationFn: () => ask(handoffRows.verify, { handoff: handed.id, body: { root: null } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['handoffs'] }),
    onError: toastProblem,
  });
  const busy = verify.isPending || handed.verifying;
  return (
    <Button disabled={busy} onClick={() => verify.mutate()}>
      {busy ? 'Is verified …' : 'Verify the drive'}
    </Button>
  );
}

/** A drive may be lost, or wiped: what was on it is sent again the next time. */
export function LostButton({ handed: { id, lost } }: { handed: HandedAnswer }) {
  const client = useQueryClient();
  const say = useMutation({
    mutationFn: () => ask(handoffRows.lost, { handoff: id, body: { lost: !lost } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['handoffs'] }),
    onError: toastProblem,
  });
  return (
    <Button disabled={say.isPending} onClick={() => say.mutate()}>
      {lost ? 'They have it after all' : 'They lost it'}
    </Button>
  );
}

interface ReturnedProps {
  production: string;
  handed: HandedAnswer;
}

/** What was found on the drive when it was looked at last, and what is on it that was not sent. */
export function Returned({ production, handed }: ReturnedProps) {
  const { returned } = handed;
  if (!returned) return null;
  const { verified, same, missing, changed, more, moreCount, markedFor, problem, at } = returned;
  return (
    <section aria-label="Looked at again">
      <h2 className="mb-1 flex items-center gap-2 font-semibold">
        {!verified && <LevelShape level="stop" />}
        {problem
          ? 'Could not be verified'
          : verified
            ? `${plural(same, 'file')} as they were sent`
            : 'Not as it was sent'}
        <span className="font-mono text-[12px] font-normal text-faint">
          {at.slice(0, 10)} {sayClock(new Date(at))}
        </span>
      </h2>
      {problem && <ProblemLine problem={problem} />}
      {markedFor !== null && <p className="text-dim">The drive says that it is {markedFor}’s.</p>}
      <Paths title="Missing" lines={missing.map((path) => ({ path, why: '' }))} />
      <Paths title="Changed" lines={changed} />
      {moreCount > 0 && (
        <>
          <h3 className="mt-2 text-dim">On it, and not sent: {moreCount}</h3>
          <ul className="max-h-60 overflow-auto">
            {more.map(({ path, kind }) => (
              <li key={path} className="flex flex-wrap items-center gap-x-2 border-t border-line py-1.5">
                <span className="min-w-0 flex-1 font-mono text-[12px] break-all">{path}</span>
                {kind === 'edit list' ? (
                  <ToCuts production={production} store={handed.store} folder={handed.folder} path={path} />
                ) : (
                  <span className="text-dim">{kind === 'media' ? 'new media' : ''}</span>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function Paths({ title, lines }: { title: string; lines: readonly { path: string; why: string }[] }) {
  if (lines.length === 0) return null;
  return (
    <>
      <h3 className="mt-2 text-dim">
        {title}: {lines.length}
      </h3>
      <ul className="max-h-40 overflow-auto">
        {lines.map(({ path, why }) => (
          <li key={path} className="border-t border-line py-1.5 text-[12px] break-words">
            <span className="font-mono break-all">{path}</span> <span className="text-dim">{why}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** An edit list that came back goes to the cuts in one step. */
function ToCuts({
  production,
  store,
  folder,
  path,
}: {
  production: string;
  store: string;
  folder: string;
  path: string;
}) {
  const client = useQueryClient();
  const go = useNavigate();
  const take = useMutation({
    mutationFn: () =>
      ask(cutRows.addFromStore, { production, body: { store, path: folder === '' ? path : `${folder}/${path}` } }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['cuts'] });
      void go(`/p/${production}/handoffs/cuts/${id}`);
    },
    onError: toastProblem,
  });
  return (
    <Button disabled={take.isPending} onClick={() => take.mutate()} aria-label={`To the cuts: ${path}`}>
      To the cuts
    </Button>
  );
}
