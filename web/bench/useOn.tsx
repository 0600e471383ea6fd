import { benchRows } from '@relay/contract/routes/bench';
import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import type { Chain } from '@relay/core/colour/chain/chain';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { useSaid } from '../corrections/useSaid.ts';
import { plural } from '../ui/format.ts';
import { Button, toastProblem } from '../ui/pieces.tsx';

interface Place {
  scope: RuleScope;
  label: string;
  clips: number;
}

/** Where something that is said on the bench can hold, the widest last. */
function placesOn(bench: BenchAnswer, selection: readonly string[]): [Place, ...Place[]] {
  return [
    selection.length > 1
      ? { scope: 'clip', label: 'the selection', clips: selection.length }
      : { scope: 'clip', label: 'this clip', clips: 1 },
    { scope: 'roll', label: `roll ${bench.roll}`, clips: bench.rollClips },
    { scope: 'group', label: 'its group', clips: bench.group.clips },
    { scope: 'production', label: 'everything', clips: bench.productionClips },
  ];
}

/** A scope with what it is a scope of, as it is said to the server. */
export function ruleTo(scope: RuleScope, bench: BenchAnswer, selection: readonly string[]) {
  switch (scope) {
    case 'clip':
      return { scope, clips: selection.length > 1 ? [...selection] : [bench.clip] };
    case 'roll':
      return { scope, key: bench.roll };
    case 'group':
      return { scope, key: bench.group.key };
    case 'production':
      return { scope };
  }
}

interface UseFormProps {
  bench: BenchAnswer;
  selection: readonly string[];
  disabled: boolean;
  onUse: (scope: RuleScope) => void;
}

/** Chooses where what is said on the bench is to hold, and uses it there. */
export function UseForm({ bench, selection, disabled, onUse }: UseFormProps) {
  const places = placesOn(bench, selection);
  const [scope, setScope] = useState<RuleScope>(selection.length > 1 ? 'clip' : 'group');
  const place = places.find((one) => one.scope === scope) ?? places[0];
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onUse(place.scope);
      }}
    >
      <select
        aria-label="Use it on"
        value={scope}
        onChange={(event) => setScope(event.target.value as RuleScope)}
        className="h-8 min-w-0 flex-1 rounded-md border border-line bg-ground px-2"
      >
        {places.map((one) => (
          <option key={one.scope} value={one.scope}>
            {one.label}, {plural(one.clips, 'clip')}
          </option>
        ))}
      </select>
      <Button main type="submit" disabled={disabled}>
        Use on {plural(place.clips, 'clip')}
      </Button>
    </form>
  );
}

/** Uses a chain on clips, a roll, a group or everything, and offers to undo it. */
export function useOn(production: string, bench: BenchAnswer | undefined, selection: readonly string[]) {
  const said = useSaid();
  return useMutation({
    mutationFn: async ({ scope, chain }: { scope: RuleScope; chain: Chain | null }) => {
      if (!bench) throw new Error('Nothing is on the bench yet');
      return ask(benchRows.sayChain, { production, body: { to: ruleTo(scope, bench, selection), chain } });
    },
    onSuccess: (answer, { chain }) =>
      said(`${chain ? 'Used on' : 'No chain for'} ${plural(answer.clips, 'clip')}`, answer),
    onError: toastProblem,
  });
}
