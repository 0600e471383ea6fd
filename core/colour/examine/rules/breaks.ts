import { lumaOf } from '../facts.ts';
import { code, type LutRule } from '../finding.ts';

interface Turn {
  at: number;
  /** Change of slope, in outputs per input. */
  change: number;
}

/** Changes of slope along the neutral axis, over steps as wide as the LUT's own. */
function turnsOf(facts: Parameters<LutRule>[0]): { turns: Turn[]; slopes: number[]; width: number } {
  const points = Math.min(65, Math.max(17, facts.points));
  const last = facts.inputs.length - 1;
  const luma = (share: number): number => {
    const i = Math.round(share * last);
    return lumaOf(
      facts.neutral[i * 3] as number,
      facts.neutral[i * 3 + 1] as number,
      facts.neutral[i * 3 + 2] as number,
    );
  };
  const width = 1 / (points - 1);
  const [from, to] = facts.domain;
  const slopes = Array.from(
    { length: points - 1 },
    (_, i) => (luma((i + 1) * width) - luma(i * width)) / (width * (to - from)),
  );
  const turns = slopes
    .slice(1)
    .map((slope, i) => ({ at: from + (i + 1) * width * (to - from), change: slope - (slopes[i] as number) }));
  return { turns, slopes, width: width * (to - from) };
}

/** A step between neighbouring greys: bands in skies. */
export const breaks: LutRule = (facts) => {
  const last = facts.inputs.length - 1;
  const luma = (i: number): number =>
    lumaOf(facts.neutral[i * 3] as number, facts.neutral[i * 3 + 1] as number, facts.neutral[i * 3 + 2] as number);
  const { slopes, width } = turnsOf(facts);
  const usual = [...slopes].map(Math.abs).sort((a, b) => a - b)[Math.floor(slopes.length * 0.9)] ?? 0;
  let worst = { at: 0, step: 0 };
  // A table's own steps are the finest there are; only what stands out against them is a break.
  const stride = Math.max(1, Math.floor(last / Math.max(64, Math.min(last, facts.points))));
  for (let i = stride; i <= last; i += 1) {
    const step = Math.abs(luma(i) - luma(i - stride));
    if (step > worst.step) worst = { at: facts.inputs[i] as number, step };
  }
  const usualStep = usual * ((facts.domain[1] - facts.domain[0]) / last) * stride;
  if (worst.step * 1023 < 8 || worst.step < usualStep * 6) return null;
  return {
    rule: 'breaks',
    level: 'decide',
    text: `Greys jump by ${(worst.step * 1023).toFixed(0)} of 1023 at ${code(worst.at)}`,
    remedy: 'Look at a sky or a ramp through it; ask for the LUT to be made again if it bands',
    picture: { kind: 'neutral', marks: [[worst.at - width / 2, worst.at + width / 2]] },
  };
};

/** A sudden turn of slope: an edge where a tone should roll. */
export const kinks: LutRule = (facts) => {
  const { turns, slopes, width } = turnsOf(facts);
  const sharp = turns.filter((turn, i) => {
    const beside = [turns[i - 2], turns[i - 1], turns[i + 1], turns[i + 2]].flatMap((other) =>
      other ? [Math.abs(other.change)] : [],
    );
    const around = beside.reduce((a, b) => a + b, 0) / Math.max(1, beside.length);
    // Where it begins or ends to be flat the corner is clipping, which has a finding of its own.
    const beginsFlat = Math.min(Math.abs(slopes[i] as number), Math.abs(slopes[i + 1] as number)) < 0.05;
    return !beginsFlat && Math.abs(turn.change) > 0.35 && Math.abs(turn.change) > around * 4;
  });
  if (sharp.length === 0) return null;
  const worst = sharp.reduce((a, b) => (Math.abs(b.change) > Math.abs(a.change) ? b : a));
  return {
    rule: 'kinks',
    level: 'note',
    text: `Its tone turns sharply at ${sharp
      .slice(0, 3)
      .map((turn) => code(turn.at))
      .join(
        ', ',
      )}${sharp.length > 3 ? ` and ${sharp.length - 3} more places` : ''}, by ${Math.abs(worst.change).toFixed(2)} in slope`,
    remedy: 'Look at a ramp through it',
    picture: { kind: 'neutral', marks: sharp.map((turn) => [turn.at - width / 2, turn.at + width / 2] as const) },
  };
};
