import type { ClipAnswer, LookAnswer } from '@relay/contract/clips';
import { clipRows } from '@relay/contract/routes/clips';
import { silentBelow } from '@relay/core/measure/sound';
import { useState } from 'react';
import { addressOf } from '../api/client.ts';
import { useKeys } from '../ui/keys.ts';
import { Button, Key } from '../ui/pieces.tsx';
import { channelsOf, pictureAt, placeName, secondsOf } from './playing.ts';
import { usePlayer } from './usePlayer.ts';
import { Waveforms } from './waveforms.tsx';

interface PlayerProps {
  clip: ClipAnswer;
  look: LookAnswer | null;
}

/** A clip with its sound, by mouse and keys; below it its filmstrip and channels. */
export function Player({ clip, look }: PlayerProps) {
  const { video } = clip.description;
  const [channel, setChannel] = useState<number | null>(null);
  const player = usePlayer(clip, channel);
  const { at, seek, step } = player;
  const listen = (to: number): void => setChannel(channel === to ? null : to);
  useKeys({
    k: player.stop,
    l: player.play,
    j: () => seek(at - 5),
    ' ': player.toggle,
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    Home: () => seek(0),
    End: () => seek(secondsOf(clip)),
    ...Object.fromEntries(
      Array.from({ length: Math.min(9, channelsOf(clip)) }, (_, index) => [String(index + 1), () => listen(index)]),
    ),
    '0': () => setChannel(null),
  });
  return (
    <section aria-label="Player" className="flex flex-col gap-2">
      <div className="flex justify-center rounded-md bg-surround">
        {/* Captions: camera originals have none. */}
        <video {...player.video} className={video ? 'aspect-video max-h-[42vh] w-full object-contain' : 'h-0'} />
      </div>
      <div className="flex flex-wrap items-center gap-3">
        <Button main onClick={player.toggle}>
          {player.playing ? 'Pause' : 'Play'}
        </Button>
        <span className="font-mono text-[15px]" aria-live="off">
          {placeName(clip, at)}
        </span>
        {video && (
          <span className="font-mono text-dim">
            {pictureAt(clip, at) + 1} of {video.frames}
          </span>
        )}
        <span className="text-dim">{clip.proxy ? 'from its proxy' : 'from the original, made light as it plays'}</span>
        <span className="ml-auto flex items-center gap-1.5 text-dim">
          <Key>Space</Key> play <Key>J</Key> back <Key>K</Key> stop <Key>L</Key> on <Key>← →</Key> frame
        </span>
      </div>
      {player.failed && (
        <p role="alert" className="text-rose">
          This place cannot be played. Look at its findings, or try another place.
        </p>
      )}
      <Filmstrip clip={clip} look={look} at={at} alone={channel} onSeek={seek} />
      {channelsOf(clip) > 0 && (
        <ListenTo clip={clip} channel={channel} onAll={() => setChannel(null)} onChannel={listen} />
      )}
    </section>
  );
}

interface FilmstripProps extends PlayerProps {
  /** Where it plays, in seconds. */
  at: number;
  alone: number | null;
  onSeek: (seconds: number) => void;
}

/** Pictures and sound along the clip, and where it plays; a press goes to a place. */
function Filmstrip({ clip, look, at, alone, onSeek }: FilmstripProps) {
  const seconds = secondsOf(clip);
  const share = seconds > 0 ? Math.min(1, at / seconds) : 0;
  return (
    <div className="relative">
      {/* The page's arrow keys, Home and End move it, wherever the focus is. */}
      <div
        role="slider"
        tabIndex={0}
        aria-label="Place in the clip"
        aria-valuemin={0}
        aria-valuemax={seconds}
        aria-valuenow={at}
        aria-valuetext={placeName(clip, at)}
        className="w-full cursor-pointer"
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          onSeek(((event.clientX - box.left) / box.width) * seconds);
        }}
      >
        {look && clip.description.video && (
          <img
            src={addressOf(clipRows.strip, { clip: clip.id })}
            alt=""
            className="h-16 w-full rounded-md bg-surround object-fill"
          />
        )}
        {look && look.outlines.length > 0 && <Waveforms outlines={look.outlines} alone={alone} />}
      </div>
      <span
        aria-hidden
        className="pointer-events-none absolute inset-y-0 w-px bg-clay"
        style={{ left: `${share * 100}%` }}
      />
    </div>
  );
}

interface ListenToProps {
  clip: ClipAnswer;
  channel: number | null;
  onAll: () => void;
  onChannel: (channel: number) => void;
}

/** Which channels are heard. */
function ListenTo({ clip, channel, onAll, onChannel }: ListenToProps) {
  return (
    <div role="group" aria-label="Listen to" className="flex flex-wrap items-center gap-1.5">
      <span className="mr-1 text-dim">Listen to</span>
      <Button aria-pressed={channel === null} className={channel === null ? 'bg-raised' : ''} onClick={onAll}>
        all
      </Button>
      {Array.from({ length: channelsOf(clip) }, (_, index) => (
        <Button
          key={index}
          aria-pressed={channel === index}
          className={`px-2.5 ${channel === index ? 'bg-raised' : ''}`}
          onClick={() => onChannel(index)}
        >
          {index + 1}
          {(clip.measured?.sound[index]?.peak ?? 1) < silentBelow && <span className="text-faint"> silent</span>}
        </Button>
      ))}
    </div>
  );
}
