import { isInterlaced, type ClipDescription, type Scan } from '../clip/description.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { ok, type Result } from '../result.ts';
import { steadied } from '../time/cadence.ts';
import { planConform, type Conform, type ConformPlan, type TimeFacts } from '../time/conform.ts';
import type { FrameMap } from '../time/frameMap.ts';
import { multiply, rational } from '../time/rational.ts';
import type { PictureStep } from './legPlan.ts';

type Video = NonNullable<ClipDescription['video']>;

export interface PlannedTime extends ConformPlan {
  /** The steps that change which pictures there are. */
  steps: PictureStep[];
  /** How the pictures are scanned after these steps. */
  scan: Scan;
}

/** The scan that holds: what somebody said, else what the file states. */
function scanOf(stated: Scan, { scan }: ClipCorrections): Scan {
  return scan?.read ?? stated;
}

/** What is asked of a clip's time. What varies is made constant also where nobody asked: nothing else can be cut. */
function conformOf(source: Video, { time }: ClipCorrections, canKeepFields: boolean): Conform | null {
  const asked: Conform | null =
    time ?? (source.rateConstant ? null : { kind: 'constant', rate: steadied(source.rate, source.duration).rate });
  return asked?.kind === 'pulldown-in' && !canKeepFields
    ? { kind: 'resample', rate: rational(30_000, 1001), how: 'hold', timecode: asked.timecode }
    : asked;
}

/** What becomes of fields: kept as they are, woven into whole pictures, or a picture made of each. */
interface Fields {
  kept: boolean;
  /** A picture of each field, at twice the rate. */
  double: boolean;
  steps: PictureStep[];
}

/**
 * Frames may be relabelled as fields are, but not dropped or mixed; and fields cannot be moved against each other, so
 * that what is stabilised is deinterlaced first. Pulldown takes fields apart, or makes them, by itself.
 */
function fieldsOf(source: Video, corrections: ClipCorrections, canKeepFields: boolean): Fields {
  const scan = scanOf(source.scan, corrections);
  const { time, repair } = corrections;
  const pulled = time?.kind === 'pulldown-out' || time?.kind === 'pulldown-in';
  const kept =
    isInterlaced(scan) &&
    canKeepFields &&
    !repair?.stabilise &&
    source.rateConstant &&
    (!time || time.kind === 'relabel');
  if (!isInterlaced(scan) || kept || pulled) return { kept, double: false, steps: [] };
  const double = corrections.scan?.deinterlaced === 'double';
  const topFieldFirst = scan !== 'bottom-field-first';
  return { kept, double, steps: [{ kind: 'deinterlace', topFieldFirst, ...(double ? { double } : {}) }] };
}

/** The original's time as a conform finds it, once its fields are dealt with. */
function factsOf({ rate, rateConstant, frames, duration }: Video, double: boolean): TimeFacts {
  return double
    ? { rate: multiply(rate, rational(2)), rateConstant, frames: frames * 2, duration }
    : { rate, rateConstant, frames, duration };
}

/** A map of pictures made of fields each, to the original's frames. */
function overFields(map: FrameMap): FrameMap {
  if (map.kind === 'every') return { kind: 'fields' };
  return 'ratio' in map ? { ...map, ratio: multiply(map.ratio, rational(2)) } : map;
}

/** The steps that a conform takes. */
function conformSteps(
  source: Video,
  facts: TimeFacts,
  conform: Conform,
  { rate, frames, map }: ConformPlan,
  topFieldFirst: boolean,
): PictureStep[] {
  switch (conform.kind) {
    case 'relabel':
      return [];
    case 'resample':
    case 'constant': {
      if (!source.rateConstant) return [{ kind: 'steady', rate, frames }];
      const how = conform.kind === 'resample' ? conform.how : 'hold';
      return map.kind === 'every' ? [] : [{ kind: 'resample', from: facts.rate, rate, how, frames }];
    }
    case 'pulldown-out':
      return [{ kind: 'pulldown-out', phase: conform.phase, topFieldFirst, from: source.rate, frames }];
    case 'pulldown-in':
      return [{ kind: 'pulldown-in', from: source.rate, frames }];
  }
}

/** How pictures are scanned that no pulldown touched. */
function scanAfter(scan: Scan, { kept }: Fields): Scan {
  if (kept) return scan;
  return isInterlaced(scan) || scan === 'unknown' ? 'progressive' : scan;
}

/**
 * The steps that change which pictures there are: conform and scan together, since some of each exclude the other.
 * Fails for a conform that cannot be, with the reason.
 */
export function planTime(source: Video, corrections: ClipCorrections, canKeepFields: boolean): Result<PlannedTime> {
  const scan = scanOf(source.scan, corrections);
  const fields = fieldsOf(source, corrections, canKeepFields);
  const facts = factsOf(source, fields.double);
  const conform = conformOf(source, corrections, canKeepFields);
  if (!conform) {
    return ok({
      rate: facts.rate,
      frames: facts.frames,
      map: fields.double ? { kind: 'fields' } : { kind: 'every' },
      stretch: rational(1),
      driftSeconds: 0,
      steps: fields.steps,
      scan: scanAfter(scan, fields),
    });
  }
  const planned = planConform(facts, conform);
  if (!planned.ok) return planned;
  const { value } = planned;
  const asked = corrections.time?.kind;
  return ok({
    ...value,
    map: fields.double ? overFields(value.map) : value.map,
    steps: [...fields.steps, ...conformSteps(source, facts, conform, value, scan !== 'bottom-field-first')],
    scan:
      conform.kind === 'pulldown-in'
        ? 'top-field-first'
        : asked === 'pulldown-out' || asked === 'pulldown-in'
          ? 'progressive'
          : scanAfter(scan, fields),
  });
}
