import { Key } from '../ui/pieces.tsx';
import { labelOf, type Labelled } from './goTo.ts';
import { TimecodeEntry } from './timecodeEntry.tsx';

interface FrameRowProps {
  clip: Labelled;
  frame: number;
  last: number;
  /** Whether a timecode is being typed. */
  typing: boolean;
  onTyping: (typing: boolean) => void;
  onFrame: (frame: number) => void;
}

/** Where in the clip the picture is from, and the ways to another. */
export function FrameRow({ clip, frame, last, typing, onTyping, onFrame }: FrameRowProps) {
  const timecode = labelOf(clip, frame);
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-x-3 px-3 py-1.5">
      <span>As shot</span>
      <input
        type="range"
        aria-label="Frame"
        aria-valuetext={timecode ?? `frame ${frame + 1}`}
        min={0}
        max={last}
        value={frame}
        onChange={(event) => onFrame(Number(event.target.value))}
        className="min-w-24 flex-1 accent-surround-ink"
      />
      {typing || timecode === null ? (
        <TimecodeEntry clip={clip} frame={frame} autoFocus={typing} onFrame={onFrame} onDone={() => onTyping(false)} />
      ) : (
        <button
          type="button"
          onClick={() => onTyping(true)}
          title="Go to a timecode (G)"
          className="font-mono text-lg text-white"
        >
          {timecode}
        </button>
      )}
      <span className="font-mono whitespace-nowrap text-surround-dim">
        frame {frame + 1} of {last + 1}
      </span>
      <span className="flex items-center gap-1 [&_kbd]:border-surround-line [&_kbd]:text-surround-ink">
        <Key>←</Key>
        <Key>→</Key>
      </span>
      <span className="ml-auto">Corrected</span>
    </div>
  );
}
