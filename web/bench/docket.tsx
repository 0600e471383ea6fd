import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import { chainActs } from '@relay/core/colour/chain/say';
import { colourState } from '@relay/core/colour/states';
import { stateOfTags } from '@relay/core/colour/tags';
import { useQuery } from '@tanstack/react-query';
import { lutsQuery } from '../api/queries.ts';
import { Button, problemOf } from '../ui/pieces.tsx';
import { sayScope } from '../corrections/row.tsx';
import { AddStep } from './addStep.tsx';
import { ChainFacts, Neutral } from './chainFacts.tsx';
import { DocketHead } from './docketHead.tsx';
import { Docket } from './docketFrame.tsx';
import { Lane } from './lane.tsx';
import type { BakedAnswer, MeasuredAnswer } from './messages.ts';
import type { Part } from './parts.tsx';
import type { Draft } from './useDraft.ts';
import { UseForm } from './useOn.tsx';
import type { Computed } from './viewer.tsx';

interface BenchDocketProps {
  bench: BenchAnswer;
  production: string;
  selection: readonly string[];
  chain: Chain;
  /** Whether the chain differs from what holds for the clip. */
  dirty: boolean;
  baked: BakedAnswer | undefined;
  bakeError: Error | null;
  measured: MeasuredAnswer | undefined;
  computed: Computed | null;
  byCore: boolean;
  sheet: boolean;
  using: boolean;
  onChain: (chain: Draft<Chain>) => void;
  onByCore: (byCore: boolean) => void;
  onSheet: () => void;
  onUse: (scope: RuleScope, chain: Chain | null) => void;
  onOther: (clip: string) => void;
  onPart: (part: Part) => void;
}

/** What is in force for the clip, or that this is only tried. */
function sayInForce({ from, chain, description: { video } }: BenchAnswer, dirty: boolean): string {
  if (dirty) return 'Tried here only, not used yet';
  if (from) return `${chain ? 'Chain' : 'No chain, on purpose'}, ${sayScope[from.scope]}`;
  const tags = video ? stateOfTags(video.colour) : null;
  const tagged = tags === null ? null : colourState(tags);
  return tagged?.ok ? `No chain. Tagged as ${tagged.value.name}` : 'No chain';
}

/** The lane of the chain, what it comes to, and where it is used. */
export function BenchDocket(props: BenchDocketProps) {
  const { bench, production, selection, chain, dirty, baked, onChain } = props;
  const { data: luts = [] } = useQuery(lutsQuery);
  const problem = baked?.problem ?? (props.bakeError ? problemOf(props.bakeError) : null);
  const acts = chainActs(chain);
  return (
    <Docket
      part="colour"
      onPart={props.onPart}
      foot={
        <>
          <UseForm
            bench={bench}
            selection={selection}
            disabled={props.using || problem !== null}
            onUse={(scope) => props.onUse(scope, acts || chain.input !== null ? chain : null)}
          />
          <div className="flex flex-wrap gap-2">
            <Button aria-pressed={props.sheet} onClick={props.onSheet}>
              {props.sheet ? 'Back to the clip' : 'Contact sheet'}
            </Button>
            {dirty && <Button onClick={() => onChain(null)}>Take back</Button>}
            {!dirty && chain !== emptyChain && acts && <Button onClick={() => onChain(emptyChain)}>Clear</Button>}
          </div>
        </>
      }
    >
      <DocketHead bench={bench} onOther={props.onOther}>
        <p className="text-faint">{sayInForce(bench, dirty)}</p>
      </DocketHead>
      <Lane chain={chain} stops={baked?.steps ?? []} luts={luts} onChange={onChain} />
      <AddStep production={production} luts={luts} onChain={onChain} />
      {problem && (
        <p role="alert" className="text-rose">
          {problem.what}. <span className="text-dim">{problem.remedy}.</span>
        </p>
      )}
      <ChainFacts
        baked={baked}
        measured={props.measured}
        computed={props.computed}
        byCore={props.byCore}
        onByCore={props.onByCore}
      />
      {baked && <Neutral values={baked.neutral} />}
    </Docket>
  );
}
