import type { OutputPlan, PictureStep } from '@relay/core/recipe/legPlan';
import type { Tuning } from '../leg/encoders.ts';
import { pictureFilters } from '../leg/filters.ts';
import { oneFrame } from './oneFrame.ts';
import type { Side } from './side.ts';

/** Samples of a small picture: enough to tell one frame from another, too few for noise. */
const small = { width: 96, height: 54 };

/** A side's frames from one on as small pictures of luma, behind further filters; as many of them as there are. */
export async function smallLumas(
  side: Side,
  { frame, frames }: { frame: number; frames: number },
  filters: readonly string[],
  signal: AbortSignal,
): Promise<Float64Array[]> {
  const bytes = small.width * small.height;
  const made = await oneFrame(
    side,
    frame,
    {
      filters: [...filters, `scale=${small.width}:${small.height}:flags=area`, 'format=gray'],
      written: ['-f', 'rawvideo'],
      frames,
      isWhole: (length) => length > 0 && length % bytes === 0,
    },
    signal,
  );
  return Array.from({ length: (made?.length ?? 0) / bytes }, (_, index) =>
    // As the likeness of pictures is measured: in 16 bits.
    Float64Array.from(made?.subarray(index * bytes, (index + 1) * bytes) ?? [], (sample) => sample * 256),
  );
}

/** What is done to one picture by itself. */
const toPicture: ReadonlySet<PictureStep['kind']> = new Set([
  'deinterlace',
  'crop',
  'turn',
  'scale',
  'view',
  'pad',
  'to-legal-range',
]);

/**
 * The filters that make of an original's frame what an output has of it, in its shape and its colours; burn-ins and times
 * are left out. The tuning holds the baked chain, where the plan has one.
 */
export function laidOutAs(output: OutputPlan, { lut }: Tuning): string[] {
  const plain = { ...output };
  delete plain.burn;
  const steps = plain.video.steps
    .filter(({ kind }) => toPicture.has(kind))
    .map((step) => (step.kind === 'deinterlace' ? { ...step, double: false } : step));
  return [pictureFilters({ ...plain, video: { ...plain.video, steps } }, lut === undefined ? {} : { lut })];
}
