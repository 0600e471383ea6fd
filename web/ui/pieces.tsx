import type { Problem } from '@relay/core/result';
import { Copy } from 'lucide-react';
import type { ComponentProps, ReactNode } from 'react';
import { Link, type LinkProps } from 'react-router';
import { toast } from 'sonner';
import { Refused } from '../api/client.ts';
import { splitBytes } from './format.ts';
import { Hint } from './hint.tsx';
import { useKeyNow } from './keyChoice.ts';
import { LevelShape } from './levelMark.tsx';

type ButtonProps = ComponentProps<'button'> & { main?: boolean };

/** A button; `main` is clay, and there is one on a page: the next thing to do. */
export function Button({ main = false, className = '', ...rest }: ButtonProps) {
  const look = main
    ? 'bg-clay text-on-clay font-semibold hover:brightness-110'
    : 'border border-line text-ink hover:bg-raised';
  return (
    <button
      type="button"
      {...rest}
      className={`inline-flex h-8 items-center justify-center gap-1.5 rounded-md px-3.5 whitespace-nowrap disabled:cursor-not-allowed disabled:opacity-50 ${look} ${className}`}
    />
  );
}

/** A link that looks like the page's main button: the next thing to do is elsewhere. */
export function MainLink({ className = '', ...rest }: LinkProps) {
  return (
    <Link
      {...rest}
      className={`inline-flex h-8 items-center rounded-md bg-clay px-3.5 font-semibold text-on-clay hover:brightness-110 ${className}`}
    />
  );
}

export function Bytes({ value }: { value: number }) {
  const [number, unit] = splitBytes(value);
  return (
    <span className="font-mono whitespace-nowrap">
      {number} <span className="text-faint">{unit}</span>
    </span>
  );
}

/** A key as it is printed on the keyboard, or the one that was chosen for it here; `on` clay, the main button's. */
export function Key({ children, on }: { children: string; on?: 'clay' }) {
  const now = useKeyNow(children);
  const look = on === 'clay' ? 'border-on-clay/40' : 'border-line text-dim';
  return (
    <kbd className={`rounded border px-1 font-mono text-[11px] leading-4 font-normal ${look}`}>
      {children.length === 1 ? now : children}
    </kbd>
  );
}

/** What is wrong with something, and what to do, in a line below it. */
export function ProblemLine({ problem: { what, remedy } }: { problem: Problem }) {
  return (
    <p role="alert" className="text-rose">
      {what}. {remedy}.
    </p>
  );
}

/** What went wrong, and what to do; with a way on if there is one. */
export function ProblemNote({ problem, again }: { problem: Problem; again?: (() => void) | undefined }) {
  return (
    <div role="alert" className="m-6 max-w-xl rounded-lg border border-line bg-sheet p-5">
      <p className="font-semibold">
        <LevelShape level="stop" className="mr-2" />
        {problem.what}
      </p>
      <p className="mt-1 text-dim">{problem.remedy}.</p>
      {again && (
        <Button className="mt-4" onClick={again}>
          Try again
        </Button>
      )}
    </div>
  );
}

export function problemOf(error: unknown): Problem {
  return error instanceof Refused ? error.problem : { what: String(error), remedy: 'Load the page again' };
}

/**
 * Whether an error stands in the way of a page: nothing was shown yet, or what was shown is no more. What only could not
 * be asked anew stays on the page.
 */
export function blocks(error: unknown, shown: unknown): boolean {
  return shown === undefined || (error instanceof Refused && error.status === 404);
}

export function toastProblem(error: unknown): void {
  const problem = problemOf(error);
  toast.error(problem.what, { description: `${problem.remedy}.` });
}

/** A page with nothing on it yet: what it is for, and the way to the first thing. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="mx-auto flex max-w-md flex-col items-start gap-3 pt-24">
      <svg
        viewBox="0 0 160 28"
        className="w-40 text-lane"
        fill="none"
        stroke="currentColor"
        strokeLinecap="round"
        aria-hidden
      >
        <path d="M2 4h156M2 14h156M2 24h156" strokeWidth="1.5" />
        <rect x="2" y="10.5" width="26" height="7" rx="3.5" fill="var(--clay)" stroke="none" />
      </svg>
      <h2 className="text-lg font-semibold">{title}</h2>
      <div className="text-dim">{children}</div>
    </div>
  );
}

/** Rows that stand where rows will come. */
export function Loading({ what, rows = 8 }: { what: string; rows?: number }) {
  return (
    <div role="status" aria-label={`${what} loads`} className="flex flex-col gap-px p-5">
      {Array.from({ length: rows }, (_, row) => (
        <div key={row} className="h-9 animate-pulse rounded bg-raised/40" style={{ animationDelay: `${row * 60}ms` }} />
      ))}
    </div>
  );
}

/** Puts a text where it can be pasted from, and says so. */
export function copyText(text: string): void {
  void navigator.clipboard.writeText(text).then(
    () => toast('Copied', { description: text }),
    () => toast.error('The browser does not let this page copy'),
  );
}

export function CopyButton({ text, label }: { text: string; label: string }) {
  return (
    <Hint says={label}>
      <button
        type="button"
        onClick={() => copyText(text)}
        aria-label={label}
        className="rounded p-1 text-dim hover:bg-raised hover:text-ink"
      >
        <Copy className="size-3.5" aria-hidden />
      </button>
    </Hint>
  );
}

/** A line of a docket: what is said left, the fact right. */
export function Fact({ name, children, mono = true }: { name: string; children: ReactNode; mono?: boolean }) {
  return (
    <div className="flex items-baseline justify-between gap-4 border-b border-line/70 py-1">
      <dt className="shrink-0 text-dim">{name}</dt>
      <dd className={`min-w-0 text-right break-words ${mono ? 'font-mono' : ''}`}>{children}</dd>
    </div>
  );
}

export function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="flex flex-col gap-1">
      <span className="text-dim">{label}</span>
      {children}
    </label>
  );
}

export const inputLook =
  'h-8 w-full min-w-0 rounded-md border border-line bg-ground px-2.5 text-ink placeholder:text-faint aria-invalid:border-rose';
