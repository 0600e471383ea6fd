import { siteRows } from '@relay/contract/routes/site';
import type { SiteAnswer, StoreAnswer, WorkerLine } from '@relay/contract/site';
import { codecFamilies, videoCodecIds } from '@relay/core/recipe/codecs';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { ask } from '../api/client.ts';
import { siteQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { blocks, Button, inputLook, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { StateMark } from '../ui/stateMark.tsx';
import { StoresSection } from './stores.tsx';

/** Stores and workers: what there is to work with, and when it may. */
export function SitePage() {
  const { data: site, error, refetch } = useQuery({ ...siteQuery, refetchInterval: 5_000 });
  if (error && blocks(error, site)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!site) return <Loading what="The site" rows={5} />;
  return (
    <div className="mx-auto flex w-full max-w-5xl flex-col gap-10 px-6 py-8">
      <h1 className="text-lg font-semibold">Site</h1>
      <section aria-labelledby="workers">
        <h2 id="workers" className="font-semibold">
          Workers
        </h2>
        {site.workers.length === 0 ? (
          <p className="mt-2 text-dim">
            None is there. <code className="font-mono">./relay worker</code> starts one, here or on another machine.
          </p>
        ) : (
          <ul className="mt-2 border-t border-line">
            {site.workers.map((worker) => (
              <Worker key={worker.name} worker={worker} stores={site.stores} />
            ))}
          </ul>
        )}
        {site.isolation !== null && site.workers.every((worker) => worker.isolation === null) && (
          <div className="px-2">
            <Unsafe whose="The server's own FFmpeg" why={site.isolation} />
          </div>
        )}
        <QuietForm site={site} />
      </section>
      <StoresSection stores={site.stores} />
    </div>
  );
}

/** Names of codecs, from their ids. */
function sayCodecs(ids: readonly string[] | null): string {
  if (ids === null) return 'every codec';
  return videoCodecIds
    .filter((id) => ids.includes(id))
    .map((id) => codecFamilies[id].name)
    .join(', ');
}
function Worker({ worker, stores }: { worker: WorkerLine; stores: readonly StoreAnswer[] }) {
  const missing = stores.filter((store) => !worker.stores.includes(store.id)).map((store) => store.name);
  return (
    <li className="grid grid-cols-[12rem_9rem_1fr] items-start gap-6 border-b border-line px-2 py-3">
      <span>
        <span className="font-semibold">{worker.title}</span>
        {worker.host !== worker.title && <span className="block font-mono text-[11px] text-faint">{worker.host}</span>}
      </span>
      <span>
        <span aria-hidden className="flex gap-1 pt-1.5">
          {Array.from({ length: worker.slots }, (_, slot) => (
            <span key={slot} className={`h-1.5 w-5 rounded-full ${slot < worker.legs.length ? 'bg-sky' : 'bg-lane'}`} />
          ))}
        </span>
        <span className="mt-1 block text-dim">
          {worker.legs.length} of {plural(worker.slots, 'leg')}
        </span>
      </span>
      <span className="min-w-0">
        {worker.legs.length === 0 ? (
          <span className="text-dim">Nothing under way</span>
        ) : (
          worker.legs.map((leg) => (
            <Link
              key={leg.leg}
              to={`/p/${leg.production}/runs/${leg.run}`}
              className="mr-4 inline-flex items-center gap-1.5 hover:underline"
            >
              <StateMark state={leg.state} word={false} />
              {leg.stem}
            </Link>
          ))
        )}
        <span className="block text-[12px] text-faint">
          Takes {sayCodecs(worker.codecs)}
          {missing.length > 0 ? `; ${missing.join(', ')} not there` : ''}
        </span>
        {worker.isolation !== null && <Unsafe whose="Its FFmpeg" why={worker.isolation} />}
      </span>
    </li>
  );
}

/** Says that FFmpeg sees more of a machine than it should, and what follows. */
function Unsafe({ whose, why }: { whose: string; why: string }) {
  return (
    <span role="note" className="mt-1 flex items-baseline gap-2 text-[12px]">
      <LevelShape level="decide" />
      <span>
        {whose} runs without a sandbox: {why}. Bring in only cards that you trust.
      </span>
    </span>
  );
}

/** The hours in which no leg begins. */
function QuietForm({ site }: { site: SiteAnswer }) {
  const client = useQueryClient();
  const [times, setTimes] = useState({ from: site.quiet?.from ?? '', until: site.quiet?.until ?? '' });
  const keep = useMutation({
    mutationFn: (quiet: SiteAnswer['quiet']) => ask(siteRows.changeSite, { body: { quiet } }),
    onSettled: () => void client.invalidateQueries({ queryKey: ['site'] }),
    onError: toastProblem,
  });
  const said = times.from !== '' && times.until !== '';
  const changed = times.from !== (site.quiet?.from ?? '') || times.until !== (site.quiet?.until ?? '');
  const field = (name: 'from' | 'until', label: string) => (
    <label className="flex items-center gap-2">
      {label}
      <input
        value={times[name]}
        placeholder="HH:MM"
        inputMode="numeric"
        maxLength={5}
        onChange={(event) => setTimes({ ...times, [name]: event.target.value })}
        className={`${inputLook} w-20! font-mono`}
      />
    </label>
  );
  return (
    <form
      className="mt-4 flex flex-wrap items-center gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate(said ? times : null);
      }}
    >
      <span className="font-semibold">Quiet hours</span>
      {field('from', 'from')}
      {field('until', 'until')}
      <Button type="submit" disabled={!changed || (times.from === '') !== (times.until === '')}>
        Keep
      </Button>
      {site.quiet && (
        <Button
          onClick={() => {
            setTimes({ from: '', until: '' });
            keep.mutate(null);
          }}
        >
          None
        </Button>
      )}
      <span className="basis-full text-[12px] text-faint">
        No leg begins in them; what is under way goes on. By each machine's own clock; the server's shows {site.clock}.
      </span>
    </form>
  );
}
