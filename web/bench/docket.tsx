import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import { emptyChain, type Chain } from '@relay/core/colour/chain/chain';
import { chainActs } from '@relay/core/colour/chain/say';
import { stateOfTags } from '@relay/core/colour/tags';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { lutsQuery, lutTextQuery } from '../api/queries.ts';
import { readLutFile } from '@relay/core/colour/lut/file';
import { useQueryClient } from '@tanstack/react-query';
import { Button, Fact, problemOf, toastProblem } from '../ui/pieces.tsx';
import { withCdl, withLut } from './draft.ts';
import { Lane } from './lane.tsx';
import { PartTabs, type Part } from './parts.tsx';
import type { BakedAnswer, MeasuredAnswer } from './messages.ts';
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
  onChain: (chain: Chain | null | ((now: Chain) => Chain)) => void;
  onByCore: (byCore: boolean) => void;
  onSheet: () => void;
  onUse: (scope: RuleScope, chain: Chain | null) => void;
  onOther: (id: string | null) => void;
  onPart: (part: Part) => void;
}

const heldBy: Readonly<Record<RuleScope, string>> = {
  clip: 'said for this clip',
  roll: 'from its roll',
  group: 'from its group',
  production: 'from the production',
};

/** The lane of the chain, what it comes to, and where it is used. */
export function BenchDocket(props: BenchDocketProps) {
  const { bench, production, selection, chain, dirty, baked, measured, computed } = props;
  const client = useQueryClient();
  const { data: luts = [] } = useQuery(lutsQuery);
  const tagged = bench.description.video ? stateOfTags(bench.description.video.colour) : null;
  const add = (value: string): void => {
    if (value === 'cdl') {
      props.onChain((now) => withCdl(now, 'Balance'));
      return;
    }
    const lut = luts.find((one) => one.hash === value);
    if (!lut) return;
    if (lut.format !== 'cdl') {
      props.onChain((now) => withLut(now, lut));
      return;
    }
    // A CDL of the cabinet is taken into the chain as its numbers, so that they can be worked on.
    client.fetchQuery(lutTextQuery(lut.hash)).then(({ text, fileName }) => {
      const read = readLutFile(text, fileName);
      const op = read.ok ? read.value.ops[0] : undefined;
      if (op?.op === 'cdl') props.onChain((now) => withCdl(now, lut.name, op.cdl));
    }, toastProblem);
  };
  const problem = baked?.problem ?? (props.bakeError ? problemOf(props.bakeError) : null);
  const error = baked?.error;
  return (
    <aside aria-label="Docket" className="flex w-[336px] shrink-0 flex-col border-l border-line bg-raised/40">
      <PartTabs part="colour" onPart={props.onPart} />
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto p-4">
        <div>
          <div className="flex items-baseline justify-between gap-2">
            <h1 className="truncate text-[15px] font-semibold">{bench.stem}</h1>
            <span className="flex shrink-0 items-center gap-1 font-mono text-[11px] text-dim">
              <button
                type="button"
                aria-label="Clip before"
                disabled={!bench.previous}
                onClick={() => props.onOther(bench.previous)}
                className="rounded px-1 hover:text-ink disabled:opacity-30"
              >
                [
              </button>
              {bench.position} of {bench.of}
              <button
                type="button"
                aria-label="Next clip"
                disabled={!bench.next}
                onClick={() => props.onOther(bench.next)}
                className="rounded px-1 hover:text-ink disabled:opacity-30"
              >
                ]
              </button>
            </span>
          </div>
          <p className="text-dim">{bench.group.text}</p>
          <p className="text-faint">
            {dirty
              ? 'Tried here only, not used yet'
              : bench.from
                ? `${bench.chain ? 'Chain' : 'No chain, on purpose'}, ${heldBy[bench.from.scope]}`
                : tagged
                  ? `No chain. Tagged as ${tagged}`
                  : 'No chain'}
          </p>
        </div>
        <Lane chain={chain} stops={baked?.steps ?? []} luts={luts} onChange={props.onChain} />
        <div className="flex items-center gap-2">
          <select
            aria-label="Add a step"
            value=""
            onChange={(event) => add(event.target.value)}
            className="h-8 min-w-0 flex-1 rounded-md border border-line bg-ground px-2"
          >
            <option value="" disabled>
              Add a step…
            </option>
            <option value="cdl">CDL, neutral</option>
            {luts.map((lut) => (
              <option key={lut.hash} value={lut.hash}>
                {lut.name}: {lut.says}
                {lut.sound ? '' : ', to decide'}
              </option>
            ))}
          </select>
          <Link
            to={`/p/${production}/cabinet`}
            className="inline-flex h-8 items-center rounded-md border border-line px-3 hover:bg-raised"
          >
            Cabinet
          </Link>
        </div>
        {problem && (
          <p role="alert" className="text-rose">
            {problem.what}. <span className="text-dim">{problem.remedy}.</span>
          </p>
        )}
        <dl>
          {error && (
            <Fact name="Baked, 99.9 % within">
              {baked.cube?.size}³, {error.codes.p999.toFixed(1)} <span className="text-faint">of 1023</span>
            </Fact>
          )}
          {error && (
            <Fact name="Worst, and ΔE ITP">
              {error.codes.worst.toFixed(1)}, {error.itp.worst.toFixed(1)}
            </Fact>
          )}
          {measured && (
            <Fact name="At white or above">
              {(measured.before.clippedAbove * 100).toFixed(1)} → {(measured.after.clippedAbove * 100).toFixed(1)}{' '}
              <span className="text-faint">%</span>
            </Fact>
          )}
          {measured && (
            <Fact name="At black or below">
              {(measured.before.clippedBelow * 100).toFixed(1)} → {(measured.after.clippedBelow * 100).toFixed(1)}{' '}
              <span className="text-faint">%</span>
            </Fact>
          )}
          <Fact name="Drawn by" mono={false}>
            {computed?.by === 'card' ? (
              <>
                graphics card, <span className="font-mono">{(computed.differs * 1023).toFixed(3)}</span> of 1023 from
                core
              </>
            ) : computed ? (
              `core: ${computed.why}`
            ) : (
              '…'
            )}{' '}
            <button
              type="button"
              aria-pressed={props.byCore}
              onClick={() => props.onByCore(!props.byCore)}
              className="text-dim underline underline-offset-4 hover:text-ink"
            >
              {props.byCore ? 'try the card' : 'use core'}
            </button>
          </Fact>
        </dl>
        {baked && <Neutral values={baked.neutral} />}
      </div>
      <div className="flex flex-col gap-2 border-t border-line p-4 py-3">
        <UseForm
          bench={bench}
          selection={selection}
          disabled={props.using || problem !== null}
          onUse={(scope) => props.onUse(scope, chainActs(chain) || chain.input !== null ? chain : null)}
        />
        <div className="flex flex-wrap gap-2">
          <Button aria-pressed={props.sheet} onClick={props.onSheet}>
            {props.sheet ? 'Back to the clip' : 'Contact sheet'}
          </Button>
          {dirty && <Button onClick={() => props.onChain(null)}>Take back</Button>}
          {!dirty && chain !== emptyChain && chainActs(chain) && (
            <Button onClick={() => props.onChain(emptyChain)}>Clear</Button>
          )}
        </div>
      </div>
    </aside>
  );
}

/** Luma after over luma before, for greys from black to white. */
function Neutral({ values }: { values: readonly number[] }) {
  const points = values
    .map((y, i) => `${(i / (values.length - 1)) * 100},${100 - Math.min(1.1, Math.max(-0.1, y)) * 100}`)
    .join(' ');
  return (
    <svg
      viewBox="0 -4 100 108"
      preserveAspectRatio="none"
      className="h-24 w-full shrink-0 bg-ground"
      role="img"
      aria-label="Greys after the chain over greys before it"
    >
      <path d="M0 100 100 0" stroke="var(--lane)" strokeWidth="1" fill="none" vectorEffect="non-scaling-stroke" />
      <polyline points={points} stroke="var(--teal)" strokeWidth="1.8" fill="none" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
