import type { CutChoice } from '@relay/contract/cuts';
import { Field, inputLook } from '../ui/pieces.tsx';

interface CutSelectProps {
  cuts: readonly CutChoice[];
  /** A version; null for all clips. */
  cut: string | null;
  onChoose: (cut: string | null) => void;
}

/** Limits what is shown or chosen to clips that a cut uses. */
export function CutSelect({ cuts, cut, onChoose }: CutSelectProps) {
  if (cuts.length === 0) return null;
  return (
    <Field label="Clips that a cut uses">
      <select className={inputLook} value={cut ?? ''} onChange={({ target }) => onChoose(target.value || null)}>
        <option value="">all</option>
        {cuts.map(({ version, name }) => (
          <option key={version} value={version}>
            {name}
          </option>
        ))}
      </select>
    </Field>
  );
}
