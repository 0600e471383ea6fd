/** Which outputs of a run somebody is to look at before it counts as looked at. */
export interface CheckRule {
  /** The first and the last clip of each roll. */
  ends: boolean;
  /** Every so many clips one, from the first on; null for none. */
  every: number | null;
  /** Whatever was corrected. */
  corrected: boolean;
  /** So many of those that are least like their originals, where that was measured. */
  worst: number;
  /** Of these deliverables only; null for all. */
  deliverables: string[] | null;
  /** Handed on only once it is looked at. */
  handoff: boolean;
}

/** What is asked for where nobody said otherwise. */
export const usualRule: CheckRule = {
  ends: true,
  every: 10,
  corrected: true,
  worst: 3,
  deliverables: null,
  handoff: false,
};

/** What a rule asks for, in words. */
export function sayRule({ ends, every, corrected, worst, deliverables, handoff }: CheckRule): string {
  const asked = [
    'what needs eyes',
    ...(ends ? ['the first and the last of each roll'] : []),
    ...(every === null ? [] : [every === 1 ? 'every clip' : `one of every ${every} clips`]),
    ...(corrected ? ['everything that was corrected'] : []),
    ...(worst > 0 ? [`the ${worst} worst by measure`] : []),
  ].join(', ');
  const of = deliverables === null ? '' : ` of ${deliverables.join(' and ') || 'no deliverable'}`;
  return `Asked for: ${asked}${of}${handoff ? '; handed off only once it is looked at' : ''}.`;
}

/** An output as far as a rule goes by it; outputs come in the run's order. */
export interface ToCheck {
  id: string;
  deliverable: string;
  roll: string;
  needsEyes: boolean;
  corrected: boolean;
  /** The least SSIM of its frames; null where it was not measured as it is. */
  worst: number | null;
}

export const reasons = [
  'needs eyes',
  'first of its roll',
  'last of its roll',
  'in the sample',
  'corrected',
  'among the worst',
] as const;
/** Why an output is to be looked at. */
export type Reason = (typeof reasons)[number];

/** A reason in words, by the rule that gave it. */
export function sayReason(reason: Reason, { every }: CheckRule): string {
  return reason === 'in the sample' && every !== null ? (every === 1 ? 'every clip' : `one of every ${every}`) : reason;
}

export interface Chosen {
  id: string;
  why: Reason[];
}

/**
 * What a rule asks to be looked at: what needs eyes whatever the rule says, first; then the sample in the run's order.
 * Each deliverable is sampled by itself: what is right in one may be wrong in the other.
 */
export function chosenBy(rule: CheckRule, outputs: readonly ToCheck[]): Chosen[] {
  const why = new Map<string, Reason[]>();
  const because = ({ id }: ToCheck, reason: Reason): void => {
    const known = why.get(id);
    if (!known) why.set(id, [reason]);
    else if (!known.includes(reason)) known.push(reason);
  };
  for (const output of outputs) if (output.needsEyes) because(output, 'needs eyes');
  const sampled = outputs.filter(
    ({ deliverable }) => rule.deliverables === null || rule.deliverables.includes(deliverable),
  );
  for (const group of groups(sampled, ({ deliverable }) => deliverable)) {
    if (rule.ends)
      for (const roll of groups(group, (output) => output.roll)) {
        because(roll[0] as ToCheck, 'first of its roll');
        because(roll.at(-1) as ToCheck, 'last of its roll');
      }
    const { every } = rule;
    if (every !== null) group.forEach((output, index) => index % every === 0 && because(output, 'in the sample'));
    if (rule.corrected) for (const output of group) if (output.corrected) because(output, 'corrected');
    const measured = group.filter(({ worst }) => worst !== null);
    measured.sort((a, b) => (a.worst as number) - (b.worst as number));
    for (const output of measured.slice(0, rule.worst)) because(output, 'among the worst');
  }
  const chosen = outputs.filter(({ id }) => why.has(id));
  return [...chosen.filter(({ needsEyes }) => needsEyes), ...chosen.filter(({ needsEyes }) => !needsEyes)].map(
    ({ id }) => ({
      id,
      why: why.get(id) as Reason[],
    }),
  );
}

function groups<T>(all: readonly T[], of: (one: T) => string): T[][] {
  const found = new Map<string, T[]>();
  for (const one of all) {
    const group = found.get(of(one));
    if (group) group.push(one);
    else found.set(of(one), [one]);
  }
  return [...found.values()];
}

/** How far a check sheet is. */
export interface SheetState {
  asked: number;
  accepted: number;
  sentBack: number;
  /** The run has ended, something was asked for, and all of that is accepted as it is. */
  met: boolean;
}

/** How far a sheet is, by what was said last of each of its outputs. */
export function sheetState(verdicts: readonly (string | null)[], ended: boolean): SheetState {
  const accepted = verdicts.filter((verdict) => verdict === 'accepted').length;
  return {
    asked: verdicts.length,
    accepted,
    sentBack: verdicts.filter((verdict) => verdict === 'sent back').length,
    met: ended && verdicts.length > 0 && accepted === verdicts.length,
  };
}
