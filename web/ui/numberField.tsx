import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { readNumber, sayLimits, sayNumber, stepped, type NumberLimits } from './numbers.ts';
import { inputLook } from './pieces.tsx';

interface NumberFieldProps extends NumberLimits {
  label: string;
  /** Null where nothing is said: the field is empty then. */
  value: number | null;
  /** What an arrow key or a notch of the wheel adds. */
  step?: number;
  /** Digits after the point that are shown. */
  digits?: number;
  placeholder?: string;
  className?: string;
  /** With `optional`, null when the field was emptied. */
  onChange: (value: number | null) => void;
  onDoubleClick?: () => void;
}

const stepsOfKeys: Readonly<Record<string, number>> = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 };

/**
 * A number, typed or stepped. What is typed stays as it is until Enter or leaving; a value that fits is given on at
 * once, so that pictures follow. What does not fit stays too and says why, and its form cannot be sent; Escape brings
 * the last value back.
 */
export function NumberField(props: NumberFieldProps) {
  const {
    label,
    value,
    step = 1,
    digits = 4,
    placeholder,
    className = '',
    unit,
    onChange,
    onDoubleClick,
    ...limits
  } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const [left, setLeft] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  /** What stood in it before a person typed. */
  const before = useRef<number | null>(null);
  const note = useId();
  const read = typed === null ? null : readNumber(typed, { ...limits, ...(unit === undefined ? {} : { unit }) });
  const why = read && !read.ok ? read.why : null;

  // A form asks its fields before it is sent.
  useEffect(() => input.current?.setCustomValidity(why ?? ''), [why]);

  const type = (text: string): void => {
    if (typed === null) before.current = value;
    setTyped(text);
    setLeft(false);
    const now = readNumber(text, limits);
    if (now.ok && now.value !== value) onChange(now.value);
  };
  const leave = (): void => {
    if (why === null) setTyped(null);
    setLeft(true);
  };
  const stepBy = (by: number): void => {
    const from = read?.ok ? read.value : value;
    setTyped(null);
    onChange(stepped(from ?? limits.least, by, limits));
  };

  // The wheel steps where the field has the focus, and scrolls everywhere else; React's own listener could not keep it.
  const wheel = useRef(stepBy);
  useEffect(() => {
    wheel.current = stepBy;
  });
  useEffect(() => {
    const field = input.current;
    const turn = (event: WheelEvent): void => {
      if (document.activeElement !== field || event.deltaY === 0) return;
      event.preventDefault();
      wheel.current((event.deltaY < 0 ? 1 : -1) * step);
    };
    field?.addEventListener('wheel', turn, { passive: false });
    return () => field?.removeEventListener('wheel', turn);
  }, [step]);

  const press = (event: KeyboardEvent): void => {
    const steps = stepsOfKeys[event.key];
    if (steps !== undefined) {
      event.preventDefault();
      stepBy(steps * step * (event.shiftKey ? 10 : 1));
    } else if (event.key === 'Enter') leave();
    else if (event.key === 'Escape' && typed !== null) {
      // Only what was typed is given up, not what the field stands in.
      event.stopPropagation();
      setTyped(null);
      if (before.current !== value) onChange(before.current);
    }
  };

  return (
    <span className="relative flex min-w-0 items-center gap-1.5">
      <input
        ref={input}
        type="text"
        inputMode="decimal"
        role="spinbutton"
        aria-label={unit === undefined ? label : `${label}, ${unit}`}
        aria-valuenow={value ?? undefined}
        aria-valuemin={limits.least}
        aria-valuemax={Number.isFinite(limits.most) ? limits.most : undefined}
        aria-invalid={left && why !== null}
        aria-describedby={note}
        title={sayLimits(props)}
        autoComplete="off"
        placeholder={placeholder}
        value={typed ?? (value === null ? '' : sayNumber(value, digits))}
        onChange={(event) => type(event.target.value)}
        onBlur={leave}
        onKeyDown={press}
        onDoubleClick={onDoubleClick}
        className={`${inputLook} text-right font-mono ${left && why !== null ? 'border-rose' : ''} ${className}`}
      />
      {unit !== undefined && <span className="text-faint">{unit}</span>}
      {left && why !== null ? (
        <span
          id={note}
          role="alert"
          className="absolute top-full right-0 z-10 mt-1 w-max max-w-56 rounded border border-rose bg-raised px-2 py-1 text-[12px] text-ink"
        >
          {why}
        </span>
      ) : (
        <span id={note} className="sr-only">
          {sayLimits(props)}
        </span>
      )}
    </span>
  );
}
