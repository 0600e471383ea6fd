import type { CorrectionsInForce } from '@relay/contract/corrections';
import type { ClipDescription } from '@relay/core/clip/description';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';
import type { Measured } from '@relay/core/measure/measured';

/** What a form of corrections works on: one clip's, or what a selection shares. */
export interface FormProps {
  /** A clip of those corrected: what it has decides what is offered. */
  clip: ClipDescription;
  measured: Measured | null;
  values: Partial<FieldValues>;
  from: CorrectionsInForce['from'];
  mixed?: readonly CorrectionField[];
  draft: Partial<FieldValues>;
  onChange: (fields: Partial<FieldValues>) => void;
}

/** The values of fields as they stand in a form, and where each row of it comes from. */
export function useFieldState({ values, draft, from, mixed = [] }: FormProps) {
  const now = <F extends CorrectionField>(field: F): Partial<FieldValues>[F] =>
    draft[field] === undefined ? values[field] : draft[field];
  const row = (
    field: CorrectionField,
  ): { from: CorrectionsInForce['from'][CorrectionField]; mixed: boolean; changed: boolean } => ({
    from: from[field],
    mixed: draft[field] === undefined && mixed.includes(field),
    changed: draft[field] !== undefined,
  });
  return { now, row };
}
