import { curves } from '@relay/core/colour/curves';
import { gamuts } from '@relay/core/colour/gamuts';
import { colourState, usualStates } from '@relay/core/colour/states';
import { useState } from 'react';

const selectLook = 'h-7 w-full min-w-0 rounded border border-line bg-ground px-1.5 text-ink';
const other = '…';

/** A state's name, marked where its curve's constants have no second source here. */
function nameOf(id: string): string {
  const state = colourState(id);
  return state.ok ? `${state.value.name}${state.value.curve.confirmed ? '' : ' (unconfirmed)'}` : id;
}

/** Chooses a colour state: the usual ones by name, any other as a curve and a gamut. */
export function StateSelect({
  label,
  value,
  none,
  onChange,
}: {
  label: string;
  value: string | null;
  none: string;
  onChange: (state: string | null) => void;
}) {
  const [pairing, setPairing] = useState(false);
  const current = value === null ? null : colourState(value);
  const [curve, gamut] = current?.ok ? [current.value.curve.id, current.value.gamut.id] : ['slog3', 'sgamut3cine'];
  const pair = (nextCurve: string, nextGamut: string): void => {
    const state = colourState(`${nextCurve}-${nextGamut}`);
    if (state.ok) onChange(state.value.id);
  };
  const listed = usualStates.some((state) => state.id === value);
  return (
    <div className="flex flex-col gap-1">
      <select
        aria-label={label}
        value={pairing ? other : (value ?? '')}
        className={selectLook}
        onChange={(event) => {
          setPairing(event.target.value === other);
          if (event.target.value !== other) onChange(event.target.value || null);
        }}
      >
        <option value="">{none}</option>
        {value !== null && !listed && <option value={value}>{nameOf(value)}</option>}
        {usualStates.map((state) => (
          <option key={state.id} value={state.id}>
            {nameOf(state.id)}
          </option>
        ))}
        <option value={other}>Another pair…</option>
      </select>
      {pairing && (
        <div className="grid grid-cols-2 gap-1">
          <select
            aria-label={`${label}: curve`}
            value={curve}
            className={selectLook}
            onChange={(event) => pair(event.target.value, gamut)}
          >
            {curves.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
                {one.confirmed ? '' : ' (unconfirmed)'}
              </option>
            ))}
          </select>
          <select
            aria-label={`${label}: gamut`}
            value={gamut}
            className={selectLook}
            onChange={(event) => pair(curve, event.target.value)}
          >
            {gamuts.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </div>
      )}
    </div>
  );
}
