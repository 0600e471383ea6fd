import { shownBy, type Shown } from '../time/frameMap.ts';
import type { Geometry } from '../shape/geometry.ts';
import type { PictureStep } from '../recipe/legPlan.ts';
import { barComparison } from './bars.ts';
import { detail, likeness, mixed, onlyGrain, softened } from './likeness.ts';
import { offsetOf, type Offset } from './offset.ts';
import { coveredIn, inActive, inOriginal } from './places.ts';
import type { Comparison } from './proof.ts';
import { grid, type Sampled, type Small, type Smalls } from './smalls.ts';

/** A finer lattice, by which parts of a sample are told. */
const fine = { width: 288, height: 162 };
/** Samples of the output that a picture may lie off: whole samples at both ends may make half of one. */
const mostOff = 0.75;

function medianOf(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;
}

/** Shifts that a picture is tried at, in points of the grid: a hundredth of its width at first, a twelfth at most. */
const shiftsTried = [1, 2, 3, 4, 5, 6, 8].flatMap(
  (far) =>
    [
      [far, 0],
      [-far, 0],
      [0, far],
      [0, -far],
    ] as const,
);

/** A picture that is off by no more than this is in its place. Chosen. */
const likeEnough = 0.002;

/** How like a picture must be at least where its light is the original's. Chosen. */
const leastLike = 0.6;

/** What all of an output's sampled pictures are held by. */
interface Holding {
  sampled: Sampled;
  geometry: Geometry;
  sameLight: boolean;
  steady: Extract<PictureStep, { kind: 'stabilise' }> | undefined;
  /** How much larger the stabilised middle is shown. */
  zoom: number;
  /**
   * Where a stabilised picture may lie, in points of the grid: as far as it may have been moved, and a little for
   * turning.
   */
  reach: number;
  /** No line was made up: places can be told to less than a sample. */
  linesKept: boolean;
}

/** One sampled picture of the output. */
interface Seen {
  n: number;
  small: Small;
  covered: (u: number, v: number) => boolean;
  shown: Shown;
  /** The picture at the grid's points, and at those where a stabilised one may lie. */
  here: Float64Array;
  moved: Float64Array[];
}

/** What came of one sampled picture. */
interface Judged {
  like: number;
  shifts: string[];
  offset: Offset | null;
  /** What frame it shows in the wrong place, if one; null where nothing moves to tell by. */
  frame: { wrong: string | null } | null;
}

function holdingOf(sampled: Sampled, geometry: Geometry, sameLight: boolean): Holding {
  const { steps } = sampled.video;
  const steady = steps.find((step) => step.kind === 'stabilise');
  const zoom = 1 + (steady?.zoomPercent ?? 0) / 100;
  // What was moved by parts of samples is compared without its finest texture.
  const soft = (smalls: Smalls): Smalls =>
    steady ? new Map([...smalls].map(([n, small]) => [n, softened(small)])) : smalls;
  return {
    sampled: { ...sampled, outputs: soft(sampled.outputs), originals: soft(sampled.originals) },
    geometry,
    sameLight,
    steady,
    zoom,
    reach: steady ? Math.ceil((steady.maxShift * 1.5 * zoom * grid.width) / sampled.upright.width) : 0,
    linesKept: !steps.some(({ kind }) => kind === 'deinterlace' || kind === 'pulldown-out' || kind === 'pulldown-in'),
  };
}

function seenOf({ sampled, geometry, steady, reach }: Holding, n: number, small: Small): Seen {
  const { video, frames, burn } = sampled;
  const covered = coveredIn(geometry, small, burn, n);
  const moved: Float64Array[] = [];
  for (let y = -reach; steady && y <= reach; y += 0.5)
    for (let x = -reach; x <= reach; x += 0.5)
      moved.push(inActive(small, geometry, covered, { dx: x / grid.width, dy: y / grid.height }));
  const here = inActive(small, geometry, covered);
  return { n, small, covered, shown: shownBy(video.map, n, frames), here, moved };
}

/** Likeness of a picture to what is wanted, at the likest of the places where it may lie; null where it is flat. */
function likest({ steady }: Holding, { here, moved }: Seen, wanted: Float64Array): number | null {
  if (!steady) return likeness(here, wanted);
  return moved.reduce<number | null>((best, one) => {
    const like = likeness(one, wanted);
    return like !== null && (best === null || like > best) ? like : best;
  }, null);
}

/** A frame of the original at the output's places; null where it was not sampled. */
function originalAt({ sampled, geometry, zoom }: Holding, frame: number): Float64Array | null {
  const one = sampled.originals.get(frame);
  return one ? inOriginal(one, geometry, sampled.upright, zoom) : null;
}

/** What must be seen by the map: a frame, or two of them woven or mixed. */
function wantedOf(holding: Holding, { frame, other }: Shown): Float64Array | null {
  const first = originalAt(holding, frame);
  const second = other ? originalAt(holding, other.frame) : null;
  return first && other && second ? mixed(first, second, other.share) : first;
}

/** Shifts at which the picture is clearly more like: it lies in the wrong place. */
function shiftsOf({ geometry, sameLight, steady }: Holding, seen: Seen, wanted: Float64Array, like: number): string[] {
  // What is as like as this can be no clearly likelier anywhere else.
  if (steady || 1 - like <= likeEnough) return [];
  return shiftsTried.flatMap(([x, y]) => {
    const moved = inActive(seen.small, geometry, seen.covered, { dx: x / grid.width, dy: y / grid.height });
    const there = likeness(moved, wanted) ?? -1;
    const clearly = 1 - there < (1 - like) * 0.5 && (sameLight || (there > 0.9 && finerLike(moved, wanted, seen.here)));
    const where = x ? (x > 0 ? 'to the right' : 'to the left') : y > 0 ? 'lower' : 'higher';
    return clearly ? [`frame ${seen.n + 1} lies ${where}`] : [];
  });
}

/**
 * Whether what is fine in the picture, too, is clearly more like what is wanted where it was moved to: through a curve,
 * the slope of a sky is as like itself in one place as in another. False where there is nothing fine to tell by.
 */
function finerLike(moved: Float64Array, wanted: Float64Array, here: Float64Array): boolean {
  const fineWanted = detail(wanted, grid.width);
  const there = likeness(detail(moved, grid.width), fineWanted);
  const stays = likeness(detail(here, grid.width), fineWanted);
  return there !== null && 1 - there < (1 - (stays ?? -1)) * 0.5;
}

/** By slopes, where the picture's light is the original's and no line was made up: to less than a sample. */
function offsetAt(holding: Holding, { small, covered, shown }: Seen): Offset | null {
  const { sampled, geometry, sameLight, steady, zoom, linesKept } = holding;
  const source = sampled.originals.get(shown.frame);
  if (shown.other || !sameLight || steady || !linesKept || !source) return null;
  const off = offsetOf(
    inOriginal(source, geometry, sampled.upright, zoom, fine),
    inActive(small, geometry, covered, { dx: 0, dy: 0 }, fine),
    fine.width,
    fine.height,
  );
  const { active } = geometry;
  return off && { dx: (off.dx * active.width) / fine.width, dy: (off.dy * active.height) / fine.height };
}

/** Whether the picture is as like the frame that the map names as it is to that frame's neighbours. */
function frameTold(holding: Holding, seen: Seen, wanted: Float64Array, like: number): Judged['frame'] {
  const { frame, other } = seen.shown;
  // Woven or mixed frames are like both of theirs: only whole ones can be told from their neighbours.
  if (other) return null;
  const rivals = [frame - 1, frame + 1].flatMap((m) => {
    const picture = originalAt(holding, m);
    const rival = picture ? likest(holding, seen, picture) : null;
    return picture === null || rival === null ? [] : [{ m, rival, apart: 1 - (likeness(wanted, picture) ?? 1) }];
  });
  if (!rivals.some(({ apart }) => apart > 2e-5)) return null;
  // Of a picture whose light was changed only clear likeness tells.
  if (!holding.sameLight && like < 0.9) return { wrong: null };
  const better = rivals.find(({ rival }) => 1 - rival < (1 - like) * 0.6 && like < 0.99999);
  return { wrong: better ? `frame ${seen.n + 1} shows ${better.m + 1} of the original, not ${frame + 1}` : null };
}

/** Holds one sampled picture; *grain* where nothing else is in it, null where nothing can be told. */
function judge(holding: Holding, n: number, small: Small): Judged | 'grain' | null {
  const seen = seenOf(holding, n, small);
  const wanted = wantedOf(holding, seen.shown);
  const like = wanted && likest(holding, seen, wanted);
  if (!wanted || like === null) return null;
  if (like <= leastLike && onlyGrain(wanted) && onlyGrain(seen.here)) return 'grain';
  return {
    like,
    shifts: shiftsOf(holding, seen, wanted, like),
    offset: offsetAt(holding, seen),
    frame: frameTold(holding, seen, wanted, like),
  };
}

/** The samples by which the pictures lie off, all together: the greater of across and down. */
function apartBy(offsets: readonly Offset[]): { apart: number; says: string | null } {
  const [dx, dy] = [medianOf(offsets.map((one) => one.dx)), medianOf(offsets.map((one) => one.dy))];
  const apart = Math.max(Math.abs(dx), Math.abs(dy));
  const says = apart > mostOff ? `it lies ${dx.toFixed(1)} samples to the right and ${dy.toFixed(1)} lower` : null;
  return { apart, says };
}

function framesComparison(judged: readonly Judged[]): Comparison {
  const told = judged.flatMap(({ frame }) => (frame === null ? [] : [frame]));
  const wrong = told.flatMap((frame) => (frame.wrong === null ? [] : [frame.wrong]));
  return {
    name: 'frames shown',
    planned: "each sampled frame the original's by the map",
    found:
      wrong[0] ??
      (told.length === 0
        ? 'nothing moves to tell by'
        : `${told.length - wrong.length} of ${told.length} sampled frames`),
    holds: wrong.length === 0,
  };
}

function placeComparison({ steady, sameLight }: Holding, judged: readonly Judged[], grains: number): Comparison {
  const offsets = judged.flatMap(({ offset }) => (offset ? [offset] : []));
  const { apart, says } = apartBy(offsets);
  const shifts = [...judged.flatMap((one) => one.shifts), ...(says === null ? [] : [says])];
  const least = Math.min(1, ...judged.map(({ like }) => like));
  const within = offsets.length > 0 ? `, within ${apart.toFixed(2)} samples` : '';
  const nothing = grains > 0 ? 'nothing but grain to tell by' : 'pictures too flat to tell';
  return {
    name: 'picture in its place',
    planned: steady
      ? `as the original's window, moved by ${steady.maxShift} samples at most`
      : "as the original's window, not shifted",
    found: shifts[0] ?? (judged.length === 0 ? nothing : `likeness ${least.toFixed(4)} at least${within}`),
    holds: shifts.length === 0 && (!sameLight || least > leastLike),
  };
}

/**
 * Holds sampled pictures of an output against the original's frames that core's map names, at the places that core's
 * geometry names: the right frame must be at least as like as its neighbours, and no shift of the picture may be more
 * like. `sameLight` is false where a chain changed the picture's light, which makes it less like: then only clear
 * likeness tells frames apart.
 */
export function pictureComparisons(sampled: Sampled, sameLight: boolean): Comparison[] {
  const { geometry } = sampled.video;
  if (!geometry) return [];
  const holding = holdingOf(sampled, geometry, sameLight);
  const found = [...holding.sampled.outputs].map(([n, small]) => judge(holding, n, small));
  const judged = found.filter((one) => one !== null && one !== 'grain');
  const grains = found.filter((one) => one === 'grain').length;
  return [framesComparison(judged), placeComparison(holding, judged, grains), ...barComparison(sampled)];
}
