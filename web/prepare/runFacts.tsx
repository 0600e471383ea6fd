import type { RunCheck } from '@relay/contract/runs';
import { Range } from '../recipes/makes.tsx';
import { plural, sayClock, saySpan } from '../ui/format.ts';
import { Button, Bytes, Fact, problemOf } from '../ui/pieces.tsx';
import { beginsAt, isLate } from './hours.ts';
import { wantsSampling } from './runDraft.ts';
import type { Preparing } from './useRunDraft.ts';

/** What a run will make, how large it will be, and how long it will take. */
export function RunFacts({ facts, preparing }: { facts: RunCheck; preparing: Preparing }) {
  const { draft, sampling } = preparing;
  return (
    <>
      <dl>
        <Fact name="Will be made">
          <span>
            {plural(facts.outputs, 'output')} of {plural(facts.clips, 'clip')}
          </span>
        </Fact>
        {facts.deliverables.map((one) => (
          <Fact key={one.deliverable} name={one.deliverable} mono={false}>
            <Range bytes={one.bytes} />
          </Fact>
        ))}
        {facts.deliverables.length > 1 && (
          <Fact name="All together" mono={false}>
            <Range bytes={facts.bytes} />
          </Fact>
        )}
        {facts.stores
          .filter(({ there }) => there)
          .map((store) => (
            <Room key={store.id} store={store} alone={facts.stores.length === 1} sampled={sampling.of !== null} />
          ))}
        <Fact name="Takes" mono={false}>
          {facts.seconds
            ? `${saySpan(facts.seconds.likely)} to ${saySpan(facts.seconds.most)}`
            : 'told once a few clips have run here'}
        </Fact>
        {facts.seconds && (
          <Fact name="Ready about" mono={false}>
            {sayClock(new Date(beginsAt(draft.notBefore) + facts.seconds.likely * 1000))}
            {isLate(draft.wantedBy, beginsAt(draft.notBefore) + facts.seconds.most * 1000) ? (
              <span className="text-amber"> may be late</span>
            ) : null}
          </Fact>
        )}
      </dl>
      <Sampling facts={facts} sampling={sampling} />
    </>
  );
}

interface RoomProps {
  store: RunCheck['stores'][number];
  /** Everything goes to it. */
  alone: boolean;
  /** Sampled pictures say more closely how large each deliverable is, but not what goes where. */
  sampled: boolean;
}

/** What is free on a store, and what of it when the run's turn comes. */
function Room({ store, alone, sampled }: RoomProps) {
  return (
    <>
      <Fact name={alone ? 'Free there' : `Free on ${store.name}`} mono={false}>
        <Bytes value={store.freeBytes} />
        {!alone && !sampled && (
          <span className="text-dim">
            {' '}
            for <Range bytes={store.bytes} />
          </span>
        )}
      </Fact>
      {store.promisedBytes > 0 && (
        <Fact name={alone ? 'When its turn comes' : `In its turn on ${store.name}`} mono={false}>
          <Bytes value={Math.max(0, store.freeBytes - store.promisedBytes)} />
        </Fact>
      )}
    </>
  );
}

/** A closer forecast, for who wants it. */
function Sampling({ facts, sampling }: { facts: RunCheck; sampling: Preparing['sampling'] }) {
  return (
    <>
      {sampling.error && (
        <p role="alert" className="mt-2 text-rose">
          {problemOf(sampling.error).what}.
        </p>
      )}
      {sampling.of && (
        <p className="mt-2 text-[12px] text-faint">
          By sampled pictures of {sampling.of.sampled} of {plural(sampling.of.of, 'clip')}.
        </p>
      )}
      {!sampling.of && wantsSampling(facts) && (
        <Button className="mt-2 w-full" disabled={sampling.busy} onClick={sampling.begin}>
          {sampling.busy ? 'Sampling pictures…' : 'Sample pictures for a closer forecast'}
        </Button>
      )}
    </>
  );
}
