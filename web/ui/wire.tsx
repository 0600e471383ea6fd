import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useAwaySince } from '../api/reach.ts';
import { siteQuery } from '../api/queries.ts';
import { plural, sayBytes, sayClock } from './format.ts';
import { allEnded, wantedNotices, wantNotices, type Wanted } from './notices.ts';
import { StateMark } from './stateMark.tsx';
import { LevelShape } from './levelMark.tsx';

const notices: Readonly<Record<Wanted, string>> = {
  nothing: 'Notices off',
  runs: 'Notices: all done',
  legs: 'Notices: every leg',
};
const following: Readonly<Record<Wanted, Wanted>> = { nothing: 'runs', runs: 'legs', legs: 'nothing' };

/** The line at the bottom: what runs, until when, and how full the stores are. */
export function Wire({ onKeys, onTheme, theme }: { onKeys: () => void; onTheme: () => void; theme: string }) {
  const { data: site } = useQuery(siteQuery);
  const awaySince = useAwaySince();
  const [wanted, setWanted] = useState<Wanted>(wantedNotices);
  const before = useRef(0);
  const under = site?.legsOpen ?? 0;
  useEffect(() => {
    if (before.current > 0 && under === 0) allEnded();
    before.current = under;
  }, [under]);
  return (
    <footer
      data-wire
      className="flex h-8 shrink-0 items-center gap-5 overflow-hidden border-t border-line bg-ground px-5 text-[12px] whitespace-nowrap text-dim"
    >
      {awaySince !== null && (
        <span role="status" className="flex shrink-0 items-center gap-1.5 text-rose">
          <LevelShape level="stop" />
          No answer since <span className="font-mono">{sayClock(new Date(awaySince))}</span>; what is shown is from
          before
        </span>
      )}
      {site && (
        <>
          {site.legsOpen > 0 ? (
            <span className={`flex items-center gap-1.5 ${site.legsRunning > 0 ? 'text-sky' : ''}`}>
              <StateMark state={site.legsRunning > 0 ? 'running' : 'waiting'} word={false} />
              {site.legsRunning > 0
                ? `${site.legsRunning} of ${plural(site.legsOpen, 'leg')} under way`
                : `${plural(site.legsOpen, 'leg')} to go`}
            </span>
          ) : (
            <span>Nothing under way</span>
          )}
          {site.workers.length === 0 && (
            <span className="flex items-center gap-1.5">
              <LevelShape level="stop" />
              No worker is there
            </span>
          )}
          {site.quietNow && (
            <span>
              Quiet until <span className="font-mono text-ink">{site.quiet?.until}</span>
            </span>
          )}
          {site.readyAt && (
            <span>
              Ready about <span className="font-mono text-ink">{sayClock(new Date(site.readyAt))}</span>
            </span>
          )}
          <span className="flex min-w-0 gap-5 overflow-hidden">
            {site.stores
              .filter((store) => !store.bay && !store.readOnly)
              .map((store) => (
                <span key={store.id} className="flex items-center gap-2">
                  {store.name}
                  {store.freeBytes === null || store.totalBytes === null ? (
                    <span className="text-rose">not there</span>
                  ) : (
                    <>
                      <span aria-hidden className="h-1 w-20 overflow-hidden rounded-full bg-raised">
                        <span
                          className="block h-full bg-sky/70"
                          style={{ width: `${100 * (1 - store.freeBytes / store.totalBytes)}%` }}
                        />
                      </span>
                      <span className="font-mono text-ink">{sayBytes(store.freeBytes)} free</span>
                    </>
                  )}
                </span>
              ))}
          </span>
        </>
      )}
      <span className="ml-auto flex items-center gap-3">
        <Link to="/site" className="hover:text-ink">
          Site
        </Link>
        <button
          type="button"
          title="A sound and a notice when work ends"
          onClick={() => {
            setWanted(following[wanted]);
            void wantNotices(following[wanted]);
          }}
          className="hover:text-ink"
        >
          {notices[wanted]}
        </button>
        <button type="button" onClick={onTheme} className="hover:text-ink">
          {theme === 'dark' ? 'Chalk' : 'Dark'}
        </button>
        <button type="button" onClick={onKeys} aria-label="How, and keys" className="px-1 hover:text-ink">
          ?
        </button>
      </span>
    </footer>
  );
}
