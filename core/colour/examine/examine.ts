import { levelOrder } from '../../findings/findings.ts';
import type { LutFile } from '../lut/read.ts';
import { lutFacts, type LutFacts } from './facts.ts';
import type { LutFinding, LutRule } from './finding.ts';
import { guessLog, guessRange, type LogGuess } from './guess.ts';
import { breaks, kinks } from './rules/breaks.ts';
import { clipsBlack, clipsWhite } from './rules/clipping.ts';
import { folds } from './rules/folds.ts';
import { identity } from './rules/identity.ts';
import { madeForLog } from './rules/madeForLog.ts';
import { neutralFalls } from './rules/neutralFalls.ts';
import { neutralTinted } from './rules/neutralTinted.ts';
import { partialDomain } from './rules/partialDomain.ts';
import { beyondRange, legalRange } from './rules/range.ts';
import type { SignalRange } from '../range.ts';

/** Everything a LUT is examined for, the gravest first. */
export const lutRules: readonly LutRule[] = [
  neutralFalls,
  legalRange,
  partialDomain,
  breaks,
  clipsBlack,
  clipsWhite,
  folds,
  kinks,
  neutralTinted,
  beyondRange,
  madeForLog,
  identity,
];

/** A LUT, examined. Values are 0–1 of full scale. */
export interface Examined {
  /** True when nothing found asks for a decision. */
  sound: boolean;
  format: LutFile['format'];
  title: string | null;
  points: number;
  threeDimensional: boolean;
  black: readonly [number, number, number];
  white: readonly [number, number, number];
  lowest: number;
  highest: number;
  range: { in: SignalRange; out: SignalRange };
  /** Likely camera logs, the likeliest first. */
  likelyLogs: LogGuess[];
  findings: LutFinding[];
  warnings: string[];
}

export function examineFacts(facts: LutFacts): Examined {
  const findings = lutRules
    .flatMap((rule) => rule(facts) ?? [])
    .sort((a, b) => levelOrder[a.level] - levelOrder[b.level]);
  const { rangeIn, rangeOut } = guessRange(facts);
  return {
    sound: findings.every((finding) => finding.level === 'note'),
    format: facts.file.format,
    title: facts.file.title,
    points: facts.points,
    threeDimensional: facts.threeDimensional,
    black: facts.black,
    white: facts.white,
    lowest: facts.lowest,
    highest: facts.highest,
    range: { in: rangeIn, out: rangeOut },
    likelyLogs: findings.some((finding) => finding.rule === 'madeForLog') ? guessLog(facts).slice(0, 3) : [],
    findings,
    warnings: facts.file.warnings,
  };
}

/** Examines a LUT file: measured facts, and findings each with what shows it. */
export function examine(file: LutFile): Examined {
  return examineFacts(lutFacts(file));
}
