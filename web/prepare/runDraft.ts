import type { SampledForecast } from '@relay/contract/forecast';
import type { RunCheck } from '@relay/contract/runs';
import { isWrongHour } from './hours.ts';

/** A run that is being prepared, as far as its form is filled in. */
export interface RunDraft {
  name: string;
  recipe: string;
  store: string;
  folder: string;
  inWaves: boolean;
  /** Hours as they are typed. */
  notBefore: string;
  wantedBy: string;
}

/** What is known of a run before it starts: what was sampled is closer than what rates tell. */
export function closerBy(check: RunCheck, sampled: SampledForecast | undefined): RunCheck {
  if (!sampled) return check;
  const closer = new Map(sampled.deliverables.map((one) => [one.deliverable, one]));
  return {
    ...check,
    bytes: sampled.bytes,
    seconds: sampled.seconds ?? check.seconds,
    deliverables: check.deliverables.map((one) => ({ ...one, ...closer.get(one.deliverable) })),
  };
}

/** Whether the run may take more than will be free when its turn comes. */
export function isTooFull({ bytesAtMost, freeBytes, promisedBytes }: RunCheck): boolean {
  return bytesAtMost > freeBytes - promisedBytes;
}

/** Whether a run can be started: what was checked is what stands in the form, there is room, and hours are hours. */
export function canStart(draft: RunDraft, check: RunCheck | undefined, checkedFolder: string): boolean {
  return (
    check !== undefined &&
    check.clips > 0 &&
    !isTooFull(check) &&
    checkedFolder === draft.folder &&
    !isWrongHour(draft.notBefore) &&
    !isWrongHour(draft.wantedBy)
  );
}

/** Whether sampling pictures would tell more than is known. */
export function wantsSampling({ deliverables }: RunCheck): boolean {
  return deliverables.some(({ known }) => known === 'roughly' || known === 'by published rates');
}
