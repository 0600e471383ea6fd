import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { proResCeiling, proResTargetFrameBytes } from '@relay/core/size/prores';
import { betterQuantiser, inProportion, kindOf, type FrameLimits, type LikeClips } from '@relay/core/size/likeClips';
import { quantiserFor, type QuantiserSample } from '@relay/core/size/quantiser';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { legMemory } from './memory.ts';
import { run } from '../process/run.ts';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';

/** Quantisers that sampled frames are tried at, and places in the clip that they are taken from. */
const triedAll = [1, 3, 8, 16, 28, 48];
const places = [0.5, 0.15, 0.85];
/** A place more for so many seconds of a clip: short ones change little, and each place costs decoding up to it. */
const secondsAPlace = 2;

/** Quantisers that are tried of a clip whose like took `quantiser`: a few about it, closer together than all are. */
function around(quantiser: number): number[] {
  const near = [
    Math.min(quantiser - 1, Math.round(quantiser * 0.7)),
    quantiser,
    Math.max(quantiser + 1, Math.round(quantiser * 1.5)),
  ];
  const there = near.filter((one) => one >= 1 && one <= coarsest);
  return there.length === 3 ? there : triedAll;
}

/** Sampled frames foretell a clip's rate within some 2 %: so much is kept from the ceiling. */
const kept = 0.98;

/** The encoder's own coarsest. The rate is kept whatever the grain: the space on the store was promised by it. */
const coarsest = 64;

/** What a mean frame of a ProRes output may take, in bytes; null for other codecs. */
function frameLimits({ codec, video }: OutputPlan): FrameLimits | null {
  if (codec.id !== 'prores') return null;
  const ceiling = proResTargetFrameBytes(codec.profile, video.raster) * proResCeiling;
  return { limit: ceiling * kept, ceiling };
}

/**
 * Clips longer than this are sampled each: it costs little beside them, and making one again that came out otherwise
 * costs much. Seconds.
 */
const shareSeconds = 10;

/**
 * Finds what the encoders need to know of the material: for ProRes the finest constant quantiser whose frames keep to
 * the profile's rate. Its own rate control tries every quantiser on every slice and costs 5 to 25 times as much. Short
 * clips whose like are known from `before` take over what was found of those; `doesNotFit` sees afterwards whether it did.
 */
export async function tuneLeg(
  plan: LegPlan,
  source: Source,
  signal?: AbortSignal,
  given: readonly Tuning[] = [],
  before?: LikeClips,
): Promise<Tuning[]> {
  const short = plan.original.video !== null && toNumber(plan.original.video.duration) <= shareSeconds;
  return Promise.all(
    plan.outputs.map(async (output, index): Promise<Tuning> => {
      const known = given[index] ?? {};
      const limits = frameLimits(output);
      if (!limits) return known;
      const kind = short ? kindOf(plan, output) : null;
      const expected = kind === null ? null : (before?.expected(kind, limits.limit, coarsest) ?? null);
      const near = kind === null ? null : (before?.last(kind)?.quantiser ?? null);
      const samples = expected ?? (await sampledNear({ plan, output, tuning: known }, source, near, signal));
      // Where nothing could be sampled the encoder keeps the rate itself, slowly.
      return samples.length > 0
        ? {
            ...known,
            quantiser: quantiserFor(samples, limits.limit, coarsest),
            chosenBy: { samples, kind, likeOnes: expected !== null },
          }
        : known;
    }),
  );
}

/**
 * Looks at what an output came out as, of `bytes` a frame, and keeps it for clips of its kind; whether it took over from
 * those before it what does not fit it, so that it must be sampled after all.
 */
export function doesNotFit(output: OutputPlan, tuning: Tuning, bytes: number, before: LikeClips): boolean {
  const { quantiser, chosenBy } = tuning;
  const limits = frameLimits(output);
  if (!limits || quantiser === undefined || !chosenBy || bytes <= 0) return false;
  const { samples, kind, likeOnes } = chosenBy;
  // What was sampled from the clip itself stands, as it always did.
  if (likeOnes && betterQuantiser(samples, { quantiser, bytes }, limits, coarsest) !== null) return true;
  if (kind !== null) before.learn(kind, inProportion(samples, quantiser, bytes), quantiser);
  return false;
}

/** What is sampled. */
interface Sampling {
  plan: LegPlan;
  output: OutputPlan;
  tuning: Tuning;
}

/** Sampled about the quantiser that a like clip took; at all of them where there is none, or where it lies outside. */
async function sampledNear(
  what: Sampling,
  source: Source,
  near: number | null,
  signal: AbortSignal | undefined,
): Promise<QuantiserSample[]> {
  const tried = near === null ? triedAll : around(near);
  const samples = await sampleQuantisers(what, source, tried, signal);
  if (tried === triedAll || samples.length === 0) return samples;
  const limit = frameLimits(what.output)?.limit ?? 0;
  const chosen = quantiserFor(samples, limit, coarsest);
  const within = chosen >= (tried[0] as number) && chosen <= (tried.at(-1) as number);
  return within ? samples : sampleQuantisers(what, source, triedAll, signal);
}

async function sampleQuantisers(
  { plan, output, tuning }: Sampling,
  source: Source,
  tried: readonly number[],
  signal: AbortSignal | undefined,
): Promise<QuantiserSample[]> {
  const seconds = plan.original.video ? toNumber(plan.original.video.duration) : 0;
  const all: QuantiserSample[] = [];
  // Where nothing comes of the middle of a file, as without an index, its beginning is taken.
  for (const place of [...places.slice(0, Math.max(1, Math.ceil(seconds / secondsAPlace))), 0]) {
    if (place === 0 && all.length > 0) break;
    const labels = tried.map((_, index) => `[q${index}]`);
    const ended = await withInput(
      source,
      (input, hands) =>
        run(
          ffmpeg,
          [
            '-v',
            'error',
            // Ahead of one frame nothing needs to be decoded.
            '-threads',
            '1',
            ...input,
            '-filter_complex',
            `[0:v:0]trim=end_frame=1,${pictureFilters(output, tuning)},split=${tried.length}${labels.join('')}`,
            ...labels.flatMap((label) => ['-map', label]),
            ...encoderArguments(output, {}),
            '-pix_fmt',
            pixelFormat(output),
            ...tried.flatMap((quantiser, index) => [`-q:v:${index}`, String(quantiser), `-frames:v:${index}`, '1']),
            '-f',
            'framecrc',
            'pipe:1',
          ],
          { timeoutMs: 180_000, signal, hands, memoryBytes: legMemory(plan) },
        ),
      { at: seconds * place },
    );
    for (const line of ended.stdout.split('\n')) {
      // stream, dts, pts, duration, size, checksum
      const fields = line.startsWith('#') ? [] : line.split(',').map((field) => field.trim());
      const quantiser = tried[Number(fields[0])];
      if (fields.length >= 6 && quantiser !== undefined) all.push({ quantiser, bytes: Number(fields[4]) });
    }
  }
  return tried.flatMap((quantiser) => {
    const sizes = all.filter((sample) => sample.quantiser === quantiser).map((sample) => sample.bytes);
    return sizes.length > 0 ? [{ quantiser, bytes: sizes.reduce((a, b) => a + b, 0) / sizes.length }] : [];
  });
}
