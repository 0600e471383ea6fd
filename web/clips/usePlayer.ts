import type { ClipAnswer } from '@relay/contract/clips';
import { clipRows } from '@relay/contract/routes/clips';
import { useEffect, useRef, useState } from 'react';
import { addressOf } from '../api/client.ts';
import { frameSeconds, nextChapter, secondsOf } from './playing.ts';

/**
 * Plays a clip from a stream that begins where it was asked for: the place in the clip is that, and how far it has
 * played. `channel` is the only one that is heard, null for all.
 */
export function usePlayer(clip: ClipAnswer, channel: number | null) {
  const [seconds, frame] = [secondsOf(clip), frameSeconds(clip)];
  const element = useRef<HTMLVideoElement>(null);
  const [from, setFrom] = useState(0);
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(false);
  const [failed, setFailed] = useState(false);
  /** Whether somebody wants it to play: a new stream then begins by itself. */
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
  const stop = (): void => {
    wanted.current = false;
    element.current?.pause();
  };
  const play = (): void => {
    const player = element.current;
    if (!player?.paused) return;
    wanted.current = true;
    if (at >= seconds - frame) seek(0);
    void player.play().catch(() => undefined);
  };
  const onEnded = (): void => {
    const early = from + (element.current?.currentTime ?? 0) < seconds - 0.3;
    if (early && clip.description.chapters.length > 1 && !clip.proxy) seek(nextChapter(clip, at));
    else {
      wanted.current = false;
      setPlaying(false);
    }
  };
  const source = addressOf(clipRows.play, {
    clip: clip.id,
    query: { from: from.toFixed(4), ...(channel === null ? {} : { channel }) },
  });
  useEffect(() => {
    if (wanted.current) void element.current?.play().catch(() => undefined);
  }, [source]);

  return {
    at,
    playing,
    failed,
    seek,
    stop,
    play,
    toggle: (): void => (element.current?.paused ? play() : stop()),
    step: (frames: number): void => {
      stop();
      seek(at + frames * frame);
    },
    /** What the element that plays is given. */
    video: {
      ref: element,
      src: source,
      preload: 'auto',
      onPlay: () => setPlaying(true),
      onPause: () => setPlaying(false),
      onTimeUpdate: () => setAt(Math.min(seconds, from + (element.current?.currentTime ?? 0))),
      onError: () => setFailed(true),
      onEnded,
    },
  };
}
