import type { LegPlan } from '@relay/core/recipe/legPlan';
import { estimateOutput, type Estimate, type SizeSamples } from '@relay/core/size/estimate';
import { legSeconds } from '@relay/core/size/time';
import { tuneLeg } from '@relay/media/leg/tune';
import type { Source } from '@relay/media/process/joined';
import { sampleLeg, wantsSamples } from '@relay/media/size/sample';
import { secondsPerFrame } from '@relay/media/size/time';
import { legColour, type LegColour, type LutText } from './colour.ts';

/** What one leg will take, by sampled pictures where they are needed. */
export interface LegForecast {
  /** For each output. */
  outputs: Estimate[];
  /** Seconds of the whole machine's work: sampling, making and proving. Null where nothing could be sampled. */
  seconds: number | null;
}

/**
 * Samples a leg just as it would be made, and says what it will take. `correction` is what this site's own finished
 * outputs of a codec took over what was said.
 */
export async function forecastLeg(
  plan: LegPlan,
  source: Source,
  lutText: LutText,
  signal?: AbortSignal,
  correction: (codec: string) => number = () => 1,
): Promise<LegForecast> {
  let samples: (SizeSamples | null)[] = plan.outputs.map(() => null);
  let seconds: number | null = null;
  let colour: LegColour | null = null;
  try {
    colour = await legColour(plan.outputs, lutText);
    const luts = colour.luts;
    const part: LegPlan = {
      ...plan,
      outputs: plan.outputs.map((output) => ({ ...output, burn: undefined })),
    };
    const tunings = await tuneLeg(
      part,
      source,
      signal,
      plan.outputs.map((_, index) => {
        const lut = luts[index];
        return lut ? { lut } : {};
      }),
    );
    if (plan.outputs.some(wantsSamples)) samples = await sampleLeg(part, source, tunings, signal);
    const each = await secondsPerFrame(part, source, tunings, signal);
    seconds = each === null ? null : legSeconds(each, plan.original.video?.frames ?? 0, plan.outputs.length);
  } catch {
    // What cannot be sampled is estimated by rates: a forecast is no place to fail in.
  } finally {
    await colour?.discard().catch(() => undefined);
  }
  return {
    outputs: plan.outputs.map((output, index) =>
      estimateOutput(output, samples[index] ?? null, correction(output.codec.id)),
    ),
    seconds,
  };
}
