import type { Rational } from '@relay/core/time/rational';
import { useState } from 'react';
import { inputLook } from '../ui/pieces.tsx';

/** A fraction that is typed, taken when the field is left or Enter pressed. */
export function Typed({
  label,
  text,
  parse,
  onValue,
  placeholder,
}: {
  label: string;
  text: string;
  parse: (text: string) => { ok: true; value: Rational } | { ok: false; problem: { what: string } };
  onValue: (value: Rational | null) => void;
  placeholder: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const take = (): void => {
    if (typed === null) return;
    if (typed.trim() === '') onValue(null);
    else {
      const read = parse(typed);
      if (!read.ok) {
        setWrong(read.problem.what);
        return;
      }
      onValue(read.value);
    }
    setTyped(null);
    setWrong(null);
  };
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={wrong !== null}
        placeholder={placeholder}
        value={typed ?? text}
        onChange={(event) => {
          setTyped(event.target.value);
          setWrong(null);
        }}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.preventDefault();
            take();
          }
        }}
        className={`${inputLook} font-mono`}
      />
      {wrong && (
        <p role="alert" className="text-rose">
          {wrong}
        </p>
      )}
    </>
  );
}
