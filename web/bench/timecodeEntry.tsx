import { useEffect, useRef, useState } from 'react';
import { frameTyped, labelOf, type Labelled } from './goTo.ts';

interface TimecodeEntryProps {
  clip: Labelled;
  frame: number;
  autoFocus: boolean;
  onFrame: (frame: number) => void;
  onDone: () => void;
}

/** A timecode to go to, or a frame's number. */
export function TimecodeEntry({ clip, frame, autoFocus, onFrame, onDone }: TimecodeEntryProps) {
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (autoFocus) field.current?.focus();
  }, [autoFocus]);

  const submit = (): void => {
    const typed = text.trim();
    const wanted = typed === '' ? null : frameTyped(typed, clip);
    if (wanted && !wanted.ok) {
      setWrong(wanted.problem.what);
      return;
    }
    if (wanted) onFrame(wanted.value);
    onDone();
  };

  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <input
        ref={field}
        aria-label="Go to a timecode or frame"
        aria-invalid={wrong !== null}
        placeholder={labelOf(clip, frame) ?? `frame ${frame + 1}`}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setWrong(null);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onDone();
        }}
        onBlur={() => {
          if (text === '') onDone();
        }}
        className="h-7 w-36 rounded border border-surround-line bg-surround-well px-2 font-mono text-white"
      />
      {wrong && (
        <span role="alert" className="text-surround-wrong">
          {wrong}
        </span>
      )}
    </form>
  );
}
