import type { LegPlan, OutputPlan } from '../recipe/legPlan.ts';
import { quantiserFor, type QuantiserSample } from './quantiser.ts';

/**
 * Clips of one kind come out alike: same camera, same settings, about as many bits a second, made into the same. Null
 * where that cannot be told, since the original's rate is not known.
 */
export function kindOf({ original: { video } }: LegPlan, { codec, video: made, colour }: OutputPlan): string | null {
  if (!video?.bitsPerSecond) return null;
  // A quarter of an octave: cameras that spend what the picture asks for tell by it how much detail there is.
  const busy = Math.round(4 * Math.log2(video.bitsPerSecond));
  const { codecId, profile, raster, rate, scan, bitDepth, chroma } = video;
  return JSON.stringify([
    [codecId, profile, raster, rate, scan, bitDepth, chroma, busy],
    [codec, made.raster, made.rate, made.scan, made.steps, colour ?? null],
  ]);
}

/** What was found of one clip: its sizes by quantiser, and the quantiser that was chosen by them. */
export interface Found {
  samples: readonly QuantiserSample[];
  quantiser: number;
}

/** So many clips of a kind must have agreed before the next one is taken to be like them. */
const agreeing = 2;
/** How far the next one's frames may lie from theirs: so far off, the quantiser must still be the right one. */
const unlike = 1.1;
/** More kinds than this are not remembered; the oldest go. */
const mostKinds = 500;

/**
 * What was found about quantisers of the clips that went before, kind by kind, so that not each of a day's hundred short
 * ones is sampled. What comes out of it is checked by `betterQuantiser`.
 */
export class LikeClips {
  private readonly kinds = new Map<string, Found[]>();

  /** What the last clip of this kind was found to take; null where none was made. */
  last(kind: string): Found | null {
    return this.kinds.get(kind)?.[0] ?? null;
  }

  /**
   * What the last clips of this kind were found to take, where they agreed and their quantiser would be right for
   * somewhat larger and smaller frames too; null where the next must be sampled.
   */
  expected(kind: string, limit: number, coarsest: number): readonly QuantiserSample[] | null {
    const found = this.kinds.get(kind) ?? [];
    const [last] = found;
    if (!last || found.length < agreeing || found.some(({ quantiser }) => quantiser !== last.quantiser)) return null;
    const holds = [unlike, 1 / unlike].every(
      (by) => quantiserFor(last.samples, limit / by, coarsest) === last.quantiser,
    );
    return holds ? last.samples : null;
  }

  /** Keeps what was found of a clip of this kind. */
  learn(kind: string, samples: readonly QuantiserSample[], quantiser: number): void {
    const found = [{ samples, quantiser }, ...(this.kinds.get(kind) ?? [])].slice(0, agreeing);
    this.kinds.delete(kind);
    this.kinds.set(kind, found);
    const oldest = this.kinds.size > mostKinds ? this.kinds.keys().next().value : undefined;
    if (oldest !== undefined) this.kinds.delete(oldest);
  }
}

/** The sizes of a clip that took `bytes` a frame at `quantiser`, where those of a like clip are known: all in proportion. */
export function inProportion(samples: readonly QuantiserSample[], quantiser: number, bytes: number): QuantiserSample[] {
  const by = bytes / sizeAt(samples, quantiser);
  return samples.map((sample) => ({ quantiser: sample.quantiser, bytes: sample.bytes * by }));
}

/** The size of a frame at a quantiser between those that are known: a straight line in log-log between its neighbours. */
function sizeAt(samples: readonly QuantiserSample[], quantiser: number): number {
  const sorted = [...samples].sort((a, b) => a.quantiser - b.quantiser);
  const after = Math.max(
    1,
    sorted.findIndex((sample) => sample.quantiser >= quantiser),
  );
  const [low, high] = [sorted[after - 1], sorted[after] ?? sorted[after - 1]];
  if (!low || !high) throw new RangeError('a size cannot be found without samples');
  if (low.quantiser === high.quantiser) return low.bytes;
  const share = Math.log(quantiser / low.quantiser) / Math.log(high.quantiser / low.quantiser);
  return low.bytes * (high.bytes / low.bytes) ** share;
}

/** What a mean frame may take: `limit` is aimed at; beyond `ceiling` is too much. Bytes. */
export interface FrameLimits {
  limit: number;
  ceiling: number;
}

/** A finer quantiser is not worth making an output again for unless it fits by so much. */
const clearly = 0.97;
/** How far beyond the ceiling is no reason to: so much a sampled frame of the clip itself errs by. */
const errs = 1.02;

/**
 * The quantiser that an output which took `bytes` a frame should have been made at, as far as like clips tell; null
 * where it was the right one: no finer one clearly fits, and the ceiling holds.
 */
export function betterQuantiser(
  samples: readonly QuantiserSample[],
  made: { quantiser: number; bytes: number },
  { limit, ceiling }: FrameLimits,
  coarsest: number,
): number | null {
  const seen = inProportion(samples, made.quantiser, made.bytes);
  if (made.bytes > ceiling * errs) {
    const coarser = Math.max(made.quantiser + 1, quantiserFor(seen, limit, coarsest));
    return coarser > coarsest ? null : coarser;
  }
  const finer = quantiserFor(seen, limit * clearly, coarsest);
  return finer < made.quantiser ? finer : null;
}
