import type { ReactNode } from 'react';

/** Something that is so or not, with its words behind it. */
export function Tick({
  on,
  onChange,
  children,
}: {
  on: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <label className="flex min-h-8 items-center gap-2">
      <input type="checkbox" checked={on} onChange={({ target }) => onChange(target.checked)} className="accent-clay" />
      {children}
    </label>
  );
}
