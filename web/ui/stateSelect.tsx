import { curves } from '@relay/core/colour/curves';
import { gamuts } from '@relay/core/colour/gamuts';
import { colourState, usualStates, type ColourState } from '@relay/core/colour/states';
import { SearchChoice, type SearchOption } from './searchChoice.tsx';

/** Chosen for: no state at all. */
const nothing = '-';

/** A state's name, marked where its curve's constants have no second source here. */
function nameOf({ name, curve }: ColourState): string {
  return `${name}${curve.confirmed ? '' : ' (unconfirmed)'}`;
}

function optionOf(state: ColourState): SearchOption {
  return { value: state.id, name: nameOf(state) };
}

const usual = usualStates.map(optionOf);
const usualIds = new Set(usualStates.map(({ id }) => id));
/** Every other pair of a curve and a gamut. */
const pairs = curves.flatMap((curve) =>
  gamuts.flatMap((gamut) => {
    const state = colourState(`${curve.id}-${gamut.id}`);
    return state.ok && !usualIds.has(state.value.id) ? [optionOf(state.value)] : [];
  }),
);

interface StateSelectProps {
  label: string;
  value: string | null;
  /** What no state means here. */
  none: string;
  onChange: (state: string | null) => void;
}

/** Chooses a colour state: the usual ones are listed, any pair of a curve and a gamut is found by its name. */
export function StateSelect({ label, value, none, onChange }: StateSelectProps) {
  const state = value === null ? null : colourState(value);
  return (
    <SearchChoice
      label={label}
      shown={state === null ? none : state.ok ? nameOf(state.value) : (value ?? none)}
      value={state?.ok ? state.value.id : nothing}
      nothing="No curve or gamut of that name"
      className="h-7!"
      groups={[
        { options: [{ value: nothing, name: none }] },
        { title: 'Usual', options: usual },
        { title: 'Any other pair', options: pairs, onlyFound: true },
      ]}
      onChoose={(chosen) => onChange(chosen === nothing ? null : chosen)}
    />
  );
}
