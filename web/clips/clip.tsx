import { clipRows } from '@relay/contract/routes/clips';
import { addressOf } from '../api/client.ts';
import type { ClipAnswer, LookAnswer } from '@relay/contract/clips';
import { silentBelow } from '@relay/core/measure/sound';
import { toNumber } from '@relay/core/time/rational';
import { formatLength, framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { clipQuery, lookQuery } from '../api/queries.ts';
import { useKeys } from '../ui/keys.tsx';
import { Button, Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ClipFacts } from './docket.tsx';
import { FindingsList } from './findings.tsx';
import { IdentityForm } from './identity.tsx';
import { Waveforms } from './waveforms.tsx';

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
  if (error) return <ProblemNote problem={problemOf(error)} />;
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
        className="flex w-[336px] shrink-0 flex-col gap-4 overflow-auto border-l border-line bg-raised/40 p-5"
      >
        <FindingsList clip={clip} production={production} />
        <IdentityForm
          key={clip.version}
          production={production}
          clips={[{ id, version: clip.version }]}
          values={clip.identity}
          circled={clip.identity.circled ?? false}
        />
        <ClipFacts clip={clip} production={production} />
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

/** The channels of a clip, counted over its tracks. */
function channelsOf(clip: ClipAnswer): number {
  return clip.description.audio.reduce((sum, track) => sum + track.channels, 0);
}

function Player({ clip, look }: { clip: ClipAnswer; look: LookAnswer | null }) {
  const { description } = clip;
  const { video } = description;
  const seconds = video
    ? toNumber(video.duration)
    : Math.max(0, ...description.audio.map((track) => (track.duration ? toNumber(track.duration) : 0)));
  const element = useRef<HTMLVideoElement>(null);
  // A stream begins where it was asked for: the place in the clip is that, and how far it has played.
  const [from, setFrom] = useState(0);
  const [channel, setChannel] = useState<number | null>(null);
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [failed, setFailed] = useState(false);
  const frame = video ? 1 / toNumber(video.rate) : 0.04;
  const wanted = useRef(false);
  const seek = (to: number): void => {
    const place = Math.max(0, Math.min(seconds - frame, to));
    // The same stream is not asked for again: it goes back to its own beginning, or a late report of its time would
    // win.
    if (place === from && element.current) element.current.currentTime = 0;
    setFrom(place);
    setAt(place);
    setFailed(false);
  };
  const toggle = (): void => {
    const player = element.current;
    if (!player) return;
    if (player.paused) {
      wanted.current = true;
      if (at >= seconds - frame) seek(0);
      void player.play().catch(() => undefined);
    } else {
      wanted.current = false;
      player.pause();
    }
  };
  const step = (frames: number): void => {
    wanted.current = false;
    element.current?.pause();
    seek(at + frames * frame);
  };
  useKeys({
    k: () => {
      wanted.current = false;
      element.current?.pause();
    },
    l: () => {
      if (element.current?.paused) toggle();
    },
    j: () => seek(at - 5),
    ' ': toggle,
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    Home: () => seek(0),
    End: () => seek(seconds),
    ...Object.fromEntries(
      Array.from({ length: Math.min(9, channelsOf(clip)) }, (_, index) => [
        String(index + 1),
        () => setChannel(channel === index ? null : index),
      ]),
    ),
    '0': () => setChannel(null),
  });
  const source = addressOf(clipRows.play, {
    clip: clip.id,
    query: { from: from.toFixed(4), ...(channel === null ? {} : { channel }) },
  });
  useEffect(() => {
    if (wanted.current) void element.current?.play().catch(() => undefined);
  }, [source]);
  const number = Math.min(video ? video.frames - 1 : Infinity, Math.max(0, Math.round(at / frame)));
  const start = video && description.timecode ? timecodeToFrames(description.timecode.start, video.rate) : null;
  const label =
    video && start?.ok ? framesToTimecode(start.value + number, video.rate, description.timecode?.dropFrame) : null;
  const share = seconds > 0 ? Math.min(1, at / seconds) : 0;
  return (
    <section aria-label="Player" className="flex flex-col gap-2">
      <div className="flex justify-center rounded-md bg-surround">
        {/* Captions: camera originals have none. */}
        <video
          ref={element}
          src={source}
          preload="auto"
          className={video ? 'aspect-video max-h-[42vh] w-full object-contain' : 'h-0'}
          onPlay={() => setPlaying(true)}
          onPause={() => setPlaying(false)}
          onTimeUpdate={(event) => setAt(Math.min(seconds, from + event.currentTarget.currentTime))}
          onError={() => setFailed(true)}
          onEnded={() => {
            if (
              from + (element.current?.currentTime ?? 0) < seconds - 0.3 &&
              description.chapters.length > 1 &&
              !clip.proxy
            )
              seek(nextChapter(clip, at));
            else {
              wanted.current = false;
              setPlaying(false);
            }
          }}
        />
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <Button main onClick={toggle}>
          {playing ? 'Pause' : 'Play'}
        </Button>
        <span className="font-mono text-[15px]" aria-live="off">
          {label?.ok ? label.value.text : video ? formatLength(number, video.rate) : `${at.toFixed(1)} s`}
        </span>
        {video && (
          <span className="font-mono text-dim">
            {number + 1} of {video.frames}
          </span>
        )}
        <span className="text-dim">{clip.proxy ? 'from its proxy' : 'from the original, made light as it plays'}</span>
        <span className="ml-auto flex items-center gap-1.5 text-dim">
          <Key>Space</Key> play <Key>J</Key> back <Key>K</Key> stop <Key>L</Key> on <Key>← →</Key> frame
        </span>
      </div>
      {failed && (
        <p role="alert" className="text-rose">
          This place cannot be played. Look at its findings, or try another place.
        </p>
      )}
      <div className="relative">
        <button
          type="button"
          aria-label="Filmstrip: go to a place"
          className="block w-full"
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            seek(((event.clientX - box.left) / box.width) * seconds);
          }}
        >
          {look && video && (
            <img
              src={addressOf(clipRows.strip, { clip: clip.id })}
              alt=""
              className="h-16 w-full rounded-md bg-surround object-fill"
            />
          )}
          {look && look.outlines.length > 0 && <Waveforms outlines={look.outlines} alone={channel} />}
        </button>
        <span
          aria-hidden
          className="pointer-events-none absolute inset-y-0 w-px bg-clay"
          style={{ left: `${share * 100}%` }}
        />
      </div>
      {channelsOf(clip) > 0 && (
        <div role="group" aria-label="Listen to" className="flex flex-wrap items-center gap-1.5">
          <span className="mr-1 text-dim">Listen to</span>
          <Button
            aria-pressed={channel === null}
            className={channel === null ? 'bg-raised' : ''}
            onClick={() => setChannel(null)}
          >
            all
          </Button>
          {Array.from({ length: channelsOf(clip) }, (_, index) => {
            const silent = (clip.measured?.sound[index]?.peak ?? 1) < silentBelow;
            return (
              <Button
                key={index}
                aria-pressed={channel === index}
                className={`px-2.5 ${channel === index ? 'bg-raised' : ''}`}
                onClick={() => setChannel(channel === index ? null : index)}
              >
                {index + 1}
                {silent && <span className="text-faint"> silent</span>}
              </Button>
            );
          })}
        </div>
      )}
    </section>
  );
}

function nextChapter(clip: ClipAnswer, at: number): number {
  let end = 0;
  for (const chapter of clip.description.chapters) {
    end += toNumber(chapter.duration);
    if (end > at + 0.25) break;
  }
  return end + 0.001;
}
