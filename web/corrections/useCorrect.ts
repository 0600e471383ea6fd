import type { Target } from '@relay/contract/corrections';
import { correctionRows } from '@relay/contract/routes/corrections';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';
import { useMutation } from '@tanstack/react-query';
import { ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { useSaid } from './useSaid.ts';

/** What is asked of `/corrections`. */
export interface Correcting {
  to: Target;
  fields: Partial<FieldValues>;
  clear?: CorrectionField[];
}

/** Says corrections of clips, a roll, a group or everything, and offers to undo them. */
export function useCorrect(production: string) {
  const said = useSaid();
  return useMutation({
    mutationFn: (wanted: Correcting) => ask(correctionRows.say, { production, body: wanted }),
    onSuccess: (answer) => said(`Used on ${plural(answer.clips, 'clip')}`, answer),
    onError: toastProblem,
  });
}
