import type { Comparison } from '@relay/contract/checks';
import { toNumber } from '@relay/core/time/rational';
import { useMemo, useState } from 'react';
import type { OnDrawn } from './moving.ts';
import { Playhead } from './playhead.ts';
import { afterEnd, speeds, stretchFrom, type Between, type Speed, type Stretch } from './stretch.ts';
import { streamOf, usePairStream, type Heard } from './usePairStream.ts';

interface PairPlayerProps {
  output: string;
  against: string;
  both: Comparison | undefined;
  /** A picture of the stream is up: told when it is drawn, and which second of the stream it is. */
  onPicture: (video: HTMLVideoElement, drawn: OnDrawn) => void;
  /** The frame that is seen first. */
  begin?: number;
}

/**
 * Plays two pictures from a stream that begins where it was asked for; both are in it, so that they are never a frame
 * apart. The frame that is up is counted from where it began. Slower than life the page slows the stream down; faster,
 * or backwards, the stream itself is.
 */
export function usePairPlayer({ output, against, both, onPicture, begin = 0 }: PairPlayerProps) {
  const head = useMemo(() => new Playhead(begin), [begin]);
  const [frame, setFrame] = useState(begin);
  const [stretch, setStretch] = useState<Stretch | null>(null);
  const [speed, setSpeed] = useState<Speed>(1);
  const [heard, setHeard] = useState<Heard>({ side: 'output', channel: null });
  const [between, setBetween] = useState<Between>({ from: null, to: null, again: false });
  const [failed, setFailed] = useState(false);
  const last = Math.max(0, (both?.frames ?? 1) - 1);

  const go = (wanted: number): void => {
    const to = Math.min(last, Math.max(0, wanted));
    setStretch(null);
    setFailed(false);
    setFrame(to);
    head.to(to);
  };
  const play = (backwards: boolean, wanted: Speed, start = head.get().frame): void => {
    if (!both) return;
    setFailed(false);
    setSpeed(wanted);
    setStretch((before) => ({
      ...stretchFrom(start, { backwards, between, last }),
      speed: wanted,
      turn: (before?.turn ?? 0) + 1,
    }));
  };
  const stop = (): void => go(head.get().frame);
  /** Once more the same way is the next faster; the other way begins at life's pace. */
  const on = (backwards: boolean): void => {
    const next = stretch?.backwards === backwards ? speeds[speeds.indexOf(stretch.speed) + 1] : stretch ? 1 : speed;
    if (next !== undefined) play(backwards, next);
  };
  const source = stretch ? streamOf({ output, against }, stretch, heard) : null;
  const { element, again, now, framesSeen } = usePairStream({
    source,
    stretch,
    rate: both ? toNumber(both.rate) : 25,
    head,
    onPicture,
  });

  const onEnded = (): void => {
    if (!stretch) return;
    const next = afterEnd(stretch, { between, last, seen: framesSeen() });
    if (next === 'the same again') again(() => play(stretch.backwards, stretch.speed, stretch.from));
    else if (next === 'cut short') {
      stop();
      setFailed(true);
    } else if (next.again) play(stretch.backwards, stretch.speed, next.frame);
    else go(next.frame);
  };

  return {
    head,
    frame,
    speed,
    heard,
    between,
    failed,
    playing: stretch !== null,
    go,
    stop,
    on,
    step: (frames: number): void => go(head.get().frame + frames),
    now,
    toggle: (): void => (stretch ? stop() : play(false, speed)),
    atSpeed: (wanted: Speed): void => (stretch ? play(stretch.backwards, wanted) : setSpeed(wanted)),
    hear: (wanted: Heard): void => {
      setHeard(wanted);
      // What is heard is in the stream: it goes on from here with the other.
      if (stretch) play(stretch.backwards, stretch.speed);
    },
    setBetween,
    /** What the element that plays is given. */
    video: {
      ref: element,
      onEnded,
      onError: () => {
        // An element that was emptied says so too.
        if (element.current?.getAttribute('src') === null) return;
        stop();
        setFailed(true);
      },
    },
  };
}

export type PairPlayer = ReturnType<typeof usePairPlayer>;
