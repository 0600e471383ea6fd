import { arrivalRows } from '@relay/contract/routes/arrivals';
import type { RollAnswer } from '@relay/contract/arrivals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import { rollQuery } from '../api/queries.ts';
import { plural, sayBytes, sayClock } from '../ui/format.ts';
import { blocks, Button, CopyButton, Fact, Key, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { rollLook } from './rollState.tsx';

function sayDay(text: string): string {
  const date = new Date(text);
  return Number.isNaN(date.getTime())
    ? ''
    : `${date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${sayClock(date, true)}`;
}

/** A roll: whether its card may be cleared and why not, its copies, and everything that happened to it. */
export function RollDocket({ id, onVerify }: { id: string; onVerify: (id: string) => void }) {
  const { production = '' } = useParams();
  const client = useQueryClient();
  const { data: roll, error } = useQuery(rollQuery(id));
  const act = useMutation({
    mutationFn: (what: 'pause' | 'stop' | 'resume') => ask(arrivalRows[what], { roll: id }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['rolls'] }),
    onError: toastProblem,
  });
  if (error && blocks(error, roll)) return <ProblemNote problem={problemOf(error)} />;
  if (!roll) return <Loading what="The roll" rows={6} />;
  const open = roll.state === 'waiting' || roll.state === 'copying';
  const look = rollLook(roll);
  return (
    <div className="flex flex-col gap-4 p-5">
      <div>
        <h2 className="text-[15px] font-semibold">{roll.name}</h2>
        <p className="text-dim">
          {roll.day} · {plural(roll.files, 'file')} · {sayBytes(roll.bytes)} · {plural(roll.clips, 'clip')}
        </p>
      </div>
      <p className={`flex items-baseline gap-2 ${roll.clearing.clear ? 'font-semibold' : ''}`}>
        {look.mark}
        <span>{look.says}.</span>
      </p>
      {!roll.clearing.clear && roll.clearing.against.length > 1 && (
        <ul className="-mt-2 list-disc pl-8 text-dim">
          {roll.clearing.against.slice(1, 12).map((reason) => (
            <li key={reason} className="break-words">
              {reason}
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap gap-2">
        {open && (
          <>
            <Button onClick={() => act.mutate('pause')}>Pause</Button>
            <Button onClick={() => act.mutate('stop')}>Stop</Button>
          </>
        )}
        {!open && roll.state !== 'proved' && (
          <Button main onClick={() => act.mutate('resume')}>
            Resume
          </Button>
        )}
        {roll.copies.some((copy) => copy.manifest) && (
          <Button disabled={roll.copies.some((copy) => copy.verifying)} onClick={() => onVerify(id)}>
            {roll.copies.some((copy) => copy.verifying) ? 'Verifying…' : 'Verify again'} <Key>V</Key>
          </Button>
        )}
        {roll.clips > 0 && (
          <Link
            to={`/p/${production}/clips?filter=${encodeURIComponent(roll.name.toLowerCase())}`}
            className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
          >
            Its clips
          </Link>
        )}
      </div>
      <Copies roll={roll} />
      {roll.problems.length > 0 && (
        <section aria-label="What went wrong">
          <h3 className="mb-1 font-semibold text-dim">What went wrong</h3>
          <ul className="flex flex-col gap-1">
            {roll.problems.slice(0, 30).map((problem) => (
              <li key={`${problem.path} ${problem.what}`}>
                <span className="break-words">{problem.what}.</span> <span className="text-dim">{problem.remedy}.</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {roll.cardManifest && <CardManifest manifest={roll.cardManifest} />}
      <History roll={roll} />
    </div>
  );
}

function Copies({ roll }: { roll: RollAnswer }) {
  return (
    <section aria-label="Copies" className="flex flex-col gap-3">
      {roll.copies.map((copy, index) => (
        <div key={copy.id}>
          <h3 className="font-semibold text-dim">Copy {index + 1}</h3>
          <dl>
            <Fact name="On" mono={false}>
              {copy.storeName}
            </Fact>
            <Fact name="Folder">
              <span className="inline-flex items-center gap-1 break-all">
                {copy.folder}
                <CopyButton text={copy.folder} label={`Copy the folder of copy ${index + 1}`} />
              </span>
            </Fact>
            <Fact name="Proved">
              {copy.filesProved} of {roll.files}
            </Fact>
            {copy.filesProved > 0 && (
              <Fact name="Read back" mono={false}>
                {copy.readFromDisk ? 'from the disk itself' : 'from memory: this disk allows no more'}
              </Fact>
            )}
            {copy.verification && (
              <Fact name="Verified again" mono={false}>
                <span className={copy.verification.verified ? '' : 'text-rose'}>
                  {copy.verification.problem
                    ? copy.verification.problem.what
                    : copy.verification.verified
                      ? `as stated, ${sayDay(copy.verifiedAt ?? '')}`
                      : `${copy.verification.missing.length} missing, ${copy.verification.changed.length} changed, ${copy.verification.extra.length} extra`}
                </span>
              </Fact>
            )}
          </dl>
          {copy.problem && (
            <p className="mt-1 text-rose">
              {copy.problem.what}. {copy.problem.remedy}.
            </p>
          )}
          {copy.verification && !copy.verification.verified && (
            <ul className="mt-1 max-h-40 overflow-auto font-mono text-[12px] break-all">
              {[
                ...copy.verification.missing.map((path) => `missing ${path}`),
                ...copy.verification.changed.map(({ path }) => `changed ${path}`),
                ...copy.verification.extra.map((path) => `extra ${path}`),
              ]
                .slice(0, 100)
                .map((line) => (
                  <li key={line}>{line}</li>
                ))}
            </ul>
          )}
        </div>
      ))}
    </section>
  );
}

function CardManifest({ manifest }: { manifest: NonNullable<RollAnswer['cardManifest']> }) {
  const wrong = [
    ...manifest.missing.map((path) => `missing ${path}`),
    ...manifest.changed.map(({ path, why }) => `changed ${path}: ${why}`),
    ...manifest.extra.map((path) => `extra ${path}`),
  ];
  return (
    <section aria-label="Manifest on the card">
      <h3 className="mb-1 font-semibold text-dim">Manifest on the card</h3>
      <p>
        {manifest.same} files as it states{wrong.length === 0 ? '.' : `; ${plural(wrong.length, 'difference')}:`}
      </p>
      {wrong.length > 0 && (
        <ul className="max-h-40 overflow-auto font-mono text-[12px] break-all">
          {wrong.slice(0, 100).map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** What happened, from our own notes and from the manifests that lie with the copies. */
function History({ roll }: { roll: RollAnswer }) {
  return (
    <section aria-label="History">
      <h3 className="mb-1 font-semibold text-dim">History</h3>
      <ol className="flex flex-col gap-1">
        {roll.events.map((event) => (
          <li key={`${event.at} ${event.what}`} className="grid grid-cols-[7.2rem_1fr] gap-2">
            <span className="font-mono text-[11px] leading-5 text-faint">{sayDay(event.at)}</span>
            <span className="break-words">
              {event.what} <span className="text-faint">{event.who}</span>
            </span>
          </li>
        ))}
      </ol>
      {roll.generations.length > 0 && (
        <>
          <h3 className="mt-3 mb-1 font-semibold text-dim">
            Manifests{' '}
            <span className="font-normal text-faint">
              ASC MHL, with {roll.hash}
              {roll.alsoMd5 ? ' and md5' : ''}
            </span>
          </h3>
          <ul className="flex flex-col gap-1">
            {roll.generations.map((one) => (
              <li key={`${one.copy} ${one.file}`}>
                <span className="block font-mono text-[11px] leading-4 break-all text-faint">
                  {one.copy}: {one.file}
                </span>
                <span className={one.doubt || one.failed > 0 ? 'text-rose' : ''}>
                  {one.doubt ??
                    `${plural(one.files, 'file')}, ${one.failed > 0 ? `${one.failed} failed` : one.process === 'transfer' ? 'on copying' : 'verified again'}`}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
