import type { ClipAnswer } from '@relay/contract/clips';
import { toNumber } from '@relay/core/time/rational';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { clipQuery, lookQuery } from '../api/queries.ts';
import { useKeys } from '../ui/keys.ts';
import { blocks, Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ClipFacts } from './docket.tsx';
import { FindingsList } from './findings.tsx';
import { MadeOfIt } from './madeOfIt.tsx';
import { IdentityForm } from './identity.tsx';
import { Player } from './player.tsx';
import { docketWidth } from '../ui/docketWidth.ts';

const Flow = lazy(() => import('./flow.tsx').then((m) => ({ default: m.Flow })));

/**
 * One clip looked at closely: played with sound, its filmstrip, every channel's sound, its data rate; facts and
 * findings beside it.
 */
export function ClipPage() {
  const { production = '', clip: id = '' } = useParams();
  const go = useNavigate();
  const { data: clip, error } = useQuery(clipQuery(id));
  const { data: look } = useQuery(lookQuery(id));
  useKeys({ Escape: () => void go(`/p/${production}/clips`) });
  if (error && blocks(error, clip)) return <ProblemNote problem={problemOf(error)} />;
  if (!clip)
    return (
      <div className="flex-1">
        <Loading what="The clip" rows={10} />
      </div>
    );
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-4 overflow-auto p-5">
        <p className="flex items-baseline gap-3">
          <Link to={`/p/${production}/clips`} className="text-dim hover:text-ink">
            Clips
          </Link>
          <span aria-hidden className="text-faint">
            ›
          </span>
          <span className="text-lg font-semibold break-all">{clip.description.stem}</span>
          <span className="ml-auto text-dim">
            Back <Key>Esc</Key>
          </span>
        </p>
        <Player key={id} clip={clip} look={look ?? null} />
        {look && look.flow.bytes.length > 0 && clip.description.video && (
          <section aria-labelledby="flow-title">
            <h2 id="flow-title" className="font-semibold">
              Data rate <span className="font-normal text-dim">{flowSays(clip)}</span>
            </h2>
            <Suspense fallback={<Loading what="The chart" rows={3} />}>
              <Flow flow={look.flow} rate={toNumber(clip.description.video.rate)} />
            </Suspense>
          </section>
        )}
        {!clip.lookedAt && (
          <p role="status" className="text-dim">
            It is being looked at closely; filmstrip, sound and data rate come by themselves.
          </p>
        )}
      </div>
      <aside
        aria-label="Docket"
        className={`flex ${docketWidth} shrink-0 flex-col gap-4 overflow-auto border-l border-line bg-raised/40 p-5`}
      >
        <FindingsList clip={clip} production={production} />
        <IdentityForm
          key={clip.version}
          production={production}
          clips={[{ id, version: clip.version }]}
          values={clip.identity}
          circled={clip.identity.circled ?? false}
        />
        <MadeOfIt clip={id} production={production} />
        <ClipFacts clip={clip} production={production} heading="h2" />
      </aside>
    </>
  );
}

function flowSays({ measured }: ClipAnswer): string {
  const flow = measured?.flow;
  if (!flow) return '';
  const group =
    flow.groupLongest === 1
      ? 'every picture whole'
      : `${flow.groupTypical === flow.groupLongest ? '' : `mostly ${flow.groupTypical}, at most `}${flow.groupLongest} pictures from one whole picture to the next`;
  return `${(flow.peakBitsPerSecond / 1e6).toFixed(1)} Mb/s in the busiest second · ${group}`;
}
