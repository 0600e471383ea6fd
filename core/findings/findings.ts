import type { Finding, FindingFacts, Level, Rule } from './finding.ts';
import { alpha } from './rules/alpha.ts';
import { bars } from './rules/bars.ts';
import { colourContradicts } from './rules/colourContradicts.ts';
import { colourUntagged } from './rules/colourUntagged.ts';
import { copyNotProved } from './rules/copyNotProved.ts';
import { cutShort } from './rules/cutShort.ts';
import { decodeErrors } from './rules/decodeErrors.ts';
import { heavyToEdit } from './rules/heavyToEdit.ts';
import { implausibleTimecode } from './rules/implausibleTimecode.ts';
import { timecodeOtherwise } from './rules/timecodeOtherwise.ts';
import { interlaced } from './rules/interlaced.ts';
import { unsaidLut } from './rules/unsaidLut.ts';
import { logAsVideo } from './rules/logAsVideo.ts';
import { mixedScan } from './rules/mixedScan.ts';
import { noReel } from './rules/noReel.ts';
import { noSound } from './rules/noSound.ts';
import { noTimecode } from './rules/noTimecode.ts';
import { not48k } from './rules/not48k.ts';
import { oddRaster } from './rules/oddRaster.ts';
import { otherRate } from './rules/otherRate.ts';
import { otherStreams } from './rules/otherStreams.ts';
import { pixelAspect } from './rules/pixelAspect.ts';
import { pixelAspectContradicts } from './rules/pixelAspectContradicts.ts';
import { pulldown } from './rules/pulldown.ts';
import { rangeNeverFull } from './rules/rangeNeverFull.ts';
import { rangeOutside } from './rules/rangeOutside.ts';
import { rotation } from './rules/rotation.ts';
import { sameName } from './rules/sameName.ts';
import { scanContradicts } from './rules/scanContradicts.ts';
import { sharedTimecode } from './rules/sharedTimecode.ts';
import { silentChannels } from './rules/silentChannels.ts';
import { soundOnly } from './rules/soundOnly.ts';
import { timecodeBreaks } from './rules/timecodeBreaks.ts';
import { undecodable } from './rules/undecodable.ts';
import { varyingRate } from './rules/varyingRate.ts';

/**
 * Every rule, the gravest first: the order in which a clip's findings are shown. A new rule is a new file and a row
 * here.
 */
export const rules: Readonly<Record<string, Rule>> = {
  undecodable,
  copyNotProved,
  cutShort,
  decodeErrors,
  varyingRate,
  noTimecode,
  timecodeBreaks,
  logAsVideo,
  unsaidLut,
  scanContradicts,
  pulldown,
  mixedScan,
  pixelAspectContradicts,
  colourContradicts,
  rangeNeverFull,
  sharedTimecode,
  sameName,
  soundOnly,
  pixelAspect,
  interlaced,
  rotation,
  oddRaster,
  alpha,
  bars,
  rangeOutside,
  colourUntagged,
  implausibleTimecode,
  timecodeOtherwise,
  noReel,
  otherRate,
  noSound,
  silentChannels,
  not48k,
  heavyToEdit,
  otherStreams,
};

/** Everything that the rules find in a clip's facts, the gravest first. */
export function findingsOf(facts: FindingFacts): Finding[] {
  return Object.entries(rules).flatMap(([rule, { level, look }]) => {
    const found = look(facts);
    return found ? [{ rule, level, ...found }] : [];
  });
}

/** Somebody's answer to a finding; it holds for this clip and this rule until it is taken back. */
export interface Decision {
  rule: string;
  answer: 'as it is' | 'leave out';
  note: string;
  by: string;
  /** ISO 8601, UTC. */
  at: string;
}

/** How findings and decisions together stand before a run. */
export interface Standing {
  /** May run: nothing stops it, and nobody left it out. Findings still to decide are asked about. */
  runs: boolean;
  why: string | null;
  toDecide: Finding[];
}

/** What may happen with a clip, by its findings and what was decided on them. */
export function standingOf(findings: readonly Finding[], decisions: readonly Decision[]): Standing {
  const answer = (rule: string): Decision['answer'] | null =>
    decisions.find((decision) => decision.rule === rule)?.answer ?? null;
  const left = findings.find((finding) => answer(finding.rule) === 'leave out');
  if (left) return { runs: false, why: `left out: ${left.text}`, toDecide: [] };
  const stop = findings.find((finding) => finding.level === 'stop' && answer(finding.rule) === null);
  return {
    runs: !stop,
    why: stop ? `${stop.text}: ${stop.why}` : null,
    toDecide: findings.filter((finding) => finding.level === 'decide' && answer(finding.rule) === null),
  };
}

/** Orders levels by how much they matter. */
export const levelOrder: Readonly<Record<Level, number>> = { stop: 0, decide: 1, note: 2 };
