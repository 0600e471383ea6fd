import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { proResCeiling, proResTargetFrameBytes } from '@relay/core/size/prores';
import { quantiserFor, type QuantiserSample } from '@relay/core/size/quantiser';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { legMemory } from './memory.ts';
import { run } from '../process/run.ts';
import { encoderArguments, type Tuning } from './encoders.ts';
import { pictureFilters, pixelFormat } from './filters.ts';

/** Quantisers that sampled frames are tried at, and places in the clip that they are taken from. */
const tried = [1, 3, 8, 16, 28, 48];
const places = [0.5, 0.15, 0.85];
/** A place more for so many seconds of a clip: short ones change little, and each place costs decoding up to it. */
const secondsAPlace = 2;

/** Sampled frames foretell a clip's rate within some 2 %: so much is kept from the ceiling. */
const kept = 0.98;

/** The encoder's own coarsest. The rate is kept whatever the grain: the space on the store was promised by it. */
const coarsest = 64;

/**
 * Finds what the encoders need to know of the material: for ProRes the finest constant quantiser whose frames keep
 * to the profile's rate. Its own rate control tries every quantiser on every slice and costs 5 to 25 times as much.
 */
export async function tuneLeg(
  plan: LegPlan,
  source: Source,
  signal?: AbortSignal,
  given: readonly Tuning[] = [],
): Promise<Tuning[]> {
  return Promise.all(
    plan.outputs.map(async (output, index): Promise<Tuning> => {
      const known = given[index] ?? {};
      if (output.codec.id !== 'prores') return known;
      const limit = proResTargetFrameBytes(output.codec.profile, output.video.raster) * proResCeiling * kept;
      const samples = await sampleQuantisers(plan, output, source, signal, known);
      // Where nothing could be sampled the encoder keeps the rate itself, slowly.
      return samples.length > 0 ? { ...known, quantiser: quantiserFor(samples, limit, coarsest) } : known;
    }),
  );
}

async function sampleQuantisers(
  plan: LegPlan,
  output: OutputPlan,
  source: Source,
  signal: AbortSignal | undefined,
  tuning: Tuning,
): Promise<QuantiserSample[]> {
  const seconds = plan.original.video ? toNumber(plan.original.video.duration) : 0;
  const all: QuantiserSample[] = [];
  // Where nothing comes of the middle of a file, as without an index, its beginning is taken.
  for (const place of [...places.slice(0, Math.max(1, Math.ceil(seconds / secondsAPlace))), 0]) {
    if (place === 0 && all.length > 0) break;
    const labels = tried.map((_, index) => `[q${index}]`);
    const ended = await withInput(source, (input, hands) =>
      run(
        ffmpeg,
        [
          '-v',
          'error',
          '-ss',
          (seconds * place).toFixed(3),
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
