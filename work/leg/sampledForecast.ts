import type { SampledForecast } from '@relay/contract/forecast';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Recipe } from '@relay/core/recipe/recipe';
import { addEstimates, estimateOutput } from '@relay/core/size/estimate';
import { timeMargin } from '@relay/core/size/time';
import { scaleUp, spreadOver } from '@relay/core/size/scaled';
import type { Source } from '@relay/media/process/joined';
import type { LutText } from './colour.ts';
import { type Held, holding } from '../disk/held.ts';
import { forecastLeg, type LegForecast } from './forecast.ts';

/** A plan, and how its original is opened when it is to be sampled. */
export interface PlannedSource {
  plan: LegPlan;
  open: (held: Held) => Promise<Source>;
}

/** Clips whose pictures are sampled at most: each takes a second or a few. */
const mostSampled = 8;

/** What a leg costs, apart from what is in its pictures: samples times frames. */
function sizeOf({ original: { video } }: LegPlan): number {
  return video ? video.raster.width * video.raster.height * video.frames : 0;
}

/**
 * What plans take, by sampling some of their originals just as a run would make them: sizes deliverable by deliverable,
 * and the time that so many machines take.
 */
export async function sampleForecast(
  plans: readonly PlannedSource[],
  recipe: Recipe,
  lutText: LutText,
  machines: number,
  signal: AbortSignal,
): Promise<SampledForecast> {
  // Alike originals stand together, so that an even spread meets every kind.
  const kind = ({ original: { video } }: LegPlan): string =>
    `${video?.codecId ?? ''} ${video?.raster.width ?? 0} ${video?.bitDepth ?? 0}`;
  const sorted = [...plans].sort((a, b) => kind(a.plan).localeCompare(kind(b.plan)) || sizeOf(a.plan) - sizeOf(b.plan));
  const seen = new Map<number, LegForecast>();
  for (const index of spreadOver(sorted.length, mostSampled)) {
    if (signal.aborted) break;
    const { plan, open } = sorted[index] as PlannedSource;
    // What is not there (any more) is estimated by rates, like what cannot be sampled.
    const sampled = await holding(async (held) => forecastLeg(plan, await open(held), lutText, signal)).catch(
      () => null,
    );
    if (sampled) seen.set(index, sampled);
  }
  const deliverables = recipe.deliverables.map(({ name }) => {
    const of = sorted
      .map(({ plan }, index) =>
        plan.outputs.flatMap((output, place) =>
          output.deliverable === name
            ? [{ rough: estimateOutput(output), sampled: seen.get(index)?.outputs[place] ?? null }]
            : [],
        ),
      )
      .flat();
    return {
      deliverable: name,
      ...scaleUp(
        of.flatMap(({ rough, sampled }) => (sampled ? [{ rough, sampled }] : [])),
        of.flatMap(({ rough, sampled }) => (sampled ? [] : [rough])),
      ),
    };
  });
  const timed = [...seen].flatMap(([index, { seconds }]) =>
    seconds === null ? [] : [{ seconds, size: sizeOf((sorted[index] as (typeof sorted)[number]).plan) }],
  );
  const pace =
    timed.reduce((sum, one) => sum + one.seconds, 0) /
    Math.max(
      1,
      timed.reduce((sum, one) => sum + one.size, 0),
    );
  const each = sorted.map(({ plan }) => sizeOf(plan) * pace);
  const likely = Math.max(each.reduce((sum, one) => sum + one, 0) / machines, Math.max(0, ...each));
  return {
    sampled: seen.size,
    of: sorted.length,
    deliverables,
    bytes: addEstimates(deliverables).bytes,
    seconds: timed.length === 0 ? null : { likely, most: likely * timeMargin },
  };
}
