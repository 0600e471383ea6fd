import { Fact } from '../ui/pieces.tsx';
import type { BakedAnswer, MeasuredAnswer } from './messages.ts';
import type { Computed } from './viewer.tsx';

interface ChainFactsProps {
  baked: BakedAnswer | undefined;
  measured: MeasuredAnswer | undefined;
  computed: Computed | null;
  byCore: boolean;
  onByCore: (byCore: boolean) => void;
}

function Share({ name, before, after }: { name: string; before: number; after: number }) {
  return (
    <Fact name={name}>
      {(before * 100).toFixed(1)} → {(after * 100).toFixed(1)} <span className="text-faint">%</span>
    </Fact>
  );
}

function DrawnBy({ computed }: { computed: Computed | null }) {
  if (!computed) return '…';
  if (computed.by === 'core') return `core: ${computed.why}`;
  return (
    <>
      graphics card, <span className="font-mono">{(computed.differs * 1023).toFixed(3)}</span> of 1023 from core
    </>
  );
}

/** What the chain comes to: how near its cube is, what it clips, and who draws it. */
export function ChainFacts({ baked, measured, computed, byCore, onByCore }: ChainFactsProps) {
  const error = baked?.error;
  return (
    <dl>
      {error && (
        <>
          <Fact name="Baked, 99.9 % within">
            {baked.cube?.size}³, {error.codes.p999.toFixed(1)} <span className="text-faint">of 1023</span>
          </Fact>
          <Fact name="Worst, and ΔE ITP">
            {error.codes.worst.toFixed(1)}, {error.itp.worst.toFixed(1)}
          </Fact>
        </>
      )}
      {measured && (
        <>
          <Share name="At white or above" before={measured.before.clippedAbove} after={measured.after.clippedAbove} />
          <Share name="At black or below" before={measured.before.clippedBelow} after={measured.after.clippedBelow} />
        </>
      )}
      <Fact name="Drawn by" mono={false}>
        <DrawnBy computed={computed} />{' '}
        <button
          type="button"
          aria-pressed={byCore}
          onClick={() => onByCore(!byCore)}
          className="text-dim underline underline-offset-4 hover:text-ink"
        >
          {byCore ? 'try the card' : 'use core'}
        </button>
      </Fact>
    </dl>
  );
}

/** Luma after over luma before, for greys from black to white. */
export function Neutral({ values }: { values: readonly number[] }) {
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
