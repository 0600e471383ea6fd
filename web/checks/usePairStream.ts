import { checkRows } from '@relay/contract/routes/checks';
import { useEffect, useRef, type RefObject } from 'react';
import { addressOf } from '../api/client.ts';
import type { OnDrawn } from './moving.ts';
import type { Playhead } from './playhead.ts';
import { feed, type Feed } from './streamFeed.ts';
import { everyOf, gatheredFor, Pace, type Stretch } from './stretch.ts';

/** What is heard: a side, or nothing; one channel alone, or all. */
export interface Heard {
  side: 'output' | 'against' | 'nothing';
  channel: number | null;
}

/** Where the stream of a stretch comes from. */
export function streamOf(
  pair: { output: string; against: string },
  stretch: Stretch,
  { side, channel }: Heard,
): string {
  return addressOf(checkRows.played, {
    output: pair.output,
    query: {
      against: pair.against,
      from: stretch.from,
      to: stretch.to,
      every: everyOf(stretch),
      backwards: String(stretch.backwards),
      hear: side,
      ...(channel === null ? {} : { channel }),
    },
  });
}

interface StreamProps {
  /** A picture of the stream is up: told when it is drawn, and which second of the stream it is. */
  onPicture: (video: HTMLVideoElement, drawn: OnDrawn) => void;
  source: string | null;
  stretch: Stretch | null;
  /** Frames a second of the stream. */
  rate: number;
  head: Playhead;
}

/** Calls for each picture that is up, with its second; answers what ends that. */
function eachPicture(video: HTMLVideoElement, call: (seconds: number) => void): () => void {
  let request = 0;
  if ('requestVideoFrameCallback' in video) {
    const drawn = (_: number, { mediaTime }: VideoFrameCallbackMetadata): void => {
      call(mediaTime);
      request = video.requestVideoFrameCallback(drawn);
    };
    request = video.requestVideoFrameCallback(drawn);
    return () => video.cancelVideoFrameCallback(request);
  }
  // A browser that does not tell of pictures is asked as often as it draws.
  const element: HTMLVideoElement = video;
  let last = -1;
  const look = (): void => {
    const { currentTime, readyState } = element;
    if (readyState >= element.HAVE_CURRENT_DATA && currentTime !== last) call((last = currentTime));
    request = requestAnimationFrame(look);
  };
  request = requestAnimationFrame(look);
  return () => cancelAnimationFrame(request);
}

/**
 * Begins to play once so much has come that it will not run dry, by how fast it comes; and again where it did run dry.
 * `seconds` are those of the whole stream; `waits` is told how many seconds it is until then.
 */
function playOnceGathered(
  video: HTMLVideoElement,
  come: Feed,
  seconds: number,
  waits: (seconds: number) => void,
): AbortController {
  const over = new AbortController();
  let pace = new Pace();
  const look = (): void => {
    const end = come.end();
    if (end <= 0) return;
    const comesBy = pace.of(performance.now() / 1000, end);
    const lacking = gatheredFor(seconds - video.currentTime, comesBy) - (end - video.currentTime);
    // What is over stands paused until that is told: played then, it would begin anew, and be taken for cut short.
    if (!video.paused || video.ended) return;
    // What comes no more, since all is there or it broke off, is not waited for.
    if (!come.comes() || lacking <= 0) void video.play().catch(() => undefined);
    else if (comesBy > 0) waits(lacking / comesBy);
  };
  const dry = (): void => {
    // At its end there is nothing more to come.
    if (video.ended || video.currentTime > seconds - 0.2) return;
    video.pause();
    pace = new Pace();
  };
  for (const event of ['progress', 'canplay', 'suspend']) video.addEventListener(event, look, { signal: over.signal });
  video.addEventListener('waiting', dry, { signal: over.signal });
  const timer = setInterval(look, 100);
  over.signal.addEventListener('abort', () => clearInterval(timer));
  return over;
}

/** A stream whose first second is later than this has lost its beginning. */
const heldFrom = 0.2;

/** The element that plays a stretch's stream, and tells of each of its pictures. */
export function usePairStream({ source, stretch, rate, head, onPicture }: StreamProps): {
  element: RefObject<HTMLVideoElement | null>;
  again: (anew: () => void) => void;
  now: () => void;
  framesSeen: () => number;
} {
  const element = useRef<HTMLVideoElement>(null);
  const picture = useRef(onPicture);
  useEffect(() => {
    picture.current = onPicture;
  });
  const turn = stretch?.turn;
  useEffect(() => {
    const video = element.current;
    if (!video || source === null || !stretch) return;
    const over = new AbortController();
    const come = feed(video, source, over.signal);
    video.playbackRate = Math.min(1, stretch.speed);
    const step = everyOf(stretch) * (stretch.backwards ? -1 : 1);
    const noMore = eachPicture(video, (mediaTime) => {
      picture.current(video, (seconds) => {
        if (over.signal.aborted) return;
        head.drew(stretch.from + step * Math.round((seconds ?? mediaTime) * rate), performance.now());
      });
    });
    const gathering = playOnceGathered(
      video,
      come,
      Math.abs(stretch.to - stretch.from) / everyOf(stretch) / rate,
      (wait) => head.gathers(wait),
    );
    return () => {
      gathering.abort();
      noMore();
      // What nobody watches is made no longer.
      over.abort();
      video.removeAttribute('src');
      video.load();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the source and the turn say when another one begins
  }, [source, turn, head]);
  return {
    element,
    /** Frames that have gone by, every one of them or not. */
    framesSeen: (): number => (element.current?.currentTime ?? 0) * rate * (stretch ? everyOf(stretch) : 1),
    /** What has come is played, though it will run dry. */
    now: (): void => void element.current?.play().catch(() => undefined),
    /** The same stretch once more, where its beginning is still there; `anew` where a long one has made room. */
    again: (anew: () => void): void => {
      const video = element.current;
      if (!video) return;
      if (video.buffered.length === 0 || video.buffered.start(0) > heldFrom) {
        anew();
        return;
      }
      video.currentTime = 0;
      void video.play().catch(() => undefined);
    },
  };
}
