import type { RuleInForce } from '@relay/contract/corrections';
import type { ReactNode } from 'react';

/** Where a rule that is in force was said. */
export const sayScope = {
  clip: 'said for this clip',
  roll: 'from its roll',
  group: 'from its group',
  production: 'from the production',
} as const;

/** One correction in a docket: its name, where its value comes from, and the control. */
export function Row({
  name,
  from,
  mixed = false,
  changed = false,
  children,
}: {
  name: string;
  from?: RuleInForce | undefined;
  mixed?: boolean;
  changed?: boolean;
  children: ReactNode;
}) {
  return (
    <div role="group" aria-label={name} className="flex flex-col gap-1 border-b border-line/70 pb-2.5">
      <span className="flex items-baseline justify-between gap-2">
        <span className="text-dim">{name}</span>
        <span className="text-[11px] text-faint">
          {changed ? (
            'not used yet'
          ) : mixed ? (
            <span className="text-amber">mixed</span>
          ) : from ? (
            sayScope[from.scope]
          ) : (
            'as it comes'
          )}
        </span>
      </span>
      {children}
    </div>
  );
}

export const selectLook = 'h-8 w-full min-w-0 rounded-md border border-line bg-ground px-2 text-ink';

/** A choice among few; `mixed` shows that the clips differ until one is chosen for all. */
export function Choice<T extends string>({
  label,
  value,
  options,
  mixed = false,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  mixed?: boolean;
  onChange: (value: T) => void;
}) {
  return (
    <select
      aria-label={label}
      value={mixed ? '' : value}
      onChange={(event) => onChange(event.target.value as T)}
      className={selectLook}
    >
      {mixed && (
        <option value="" disabled>
          mixed
        </option>
      )}
      {options.map(([key, text]) => (
        <option key={key} value={key}>
          {text}
        </option>
      ))}
    </select>
  );
}
