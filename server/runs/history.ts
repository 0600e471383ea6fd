import { estimateOutput, type Estimate } from '@relay/core/size/estimate';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { DataSource } from 'typeorm';

/** What this site's own finished runs tell of runs to come. */
export interface SiteHistory {
  /**
   * What outputs of a codec and role took over what was said of them without samples; 1 where too few were made to
   * tell.
   */
  correction: (output: Pick<OutputPlan, 'codec' | 'role'>) => number;
  /**
   * Picture samples of originals that one lane of work gets through in a second, by how many outputs a leg has; null
   * before there are any.
   */
  samplesPerSecond: ((outputs: number) => number) | null;
}

/** What an output will take. */
export type EstimateOf = (output: OutputPlan) => Estimate;

/** Estimates without samples by what a site has made: each output's is reckoned once. */
export function estimatesBy(history: SiteHistory): EstimateOf {
  const known = new Map<OutputPlan, Estimate>();
  return (output) => {
    const estimate = known.get(output) ?? estimateOutput(output, null, history.correction(output));
    known.set(output, estimate);
    return estimate;
  };
}

/** Outputs and legs that are looked back upon, and how many are needed to believe them. */
const [lookedBack, enough] = [400, 5];

function medianOf(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}

const kindOf = ({ codec, role }: Pick<OutputPlan, 'codec' | 'role'>): string => `${codec.id} ${role}`;

export async function siteHistory(db: DataSource): Promise<SiteHistory> {
  const made = await db.query<{ bytes: number; plan: OutputPlan }[]>(
    `SELECT o.size_bytes::float AS bytes, planned.value AS plan
     FROM (
       SELECT *
       FROM output
       WHERE state = 'proved' AND NOT already_there AND size_bytes > 0
       ORDER BY created_at DESC
       LIMIT $1
     ) o
     JOIN leg ON leg.id = o.leg_id, json_array_elements(leg.plan->'outputs') planned
     WHERE planned.value->>'path' = o.path`,
    [lookedBack],
  );
  const ratios = new Map<string, number[]>();
  for (const { bytes, plan } of made) {
    const { likely } = estimateOutput(plan).bytes;
    ratios.set(kindOf(plan), [...(ratios.get(kindOf(plan)) ?? []), bytes / Math.max(1, likely)]);
  }
  const legs = await db.query<{ seconds: number; samples: number; outputs: number }[]>(
    `SELECT extract(epoch FROM leg.ended_at - leg.started_at)::float AS seconds,
       leg.frames_total * (clip.description->'video'->'raster'->>'width')::float * (clip.description->'video'->'raster'->>'height')::float AS samples,
       json_array_length(leg.plan->'outputs') AS outputs
     FROM leg
     JOIN clip ON clip.id = leg.clip_id
     WHERE leg.state = 'proved'
       AND leg.ended_at > leg.started_at
       AND NOT EXISTS (SELECT 1 FROM output o WHERE o.leg_id = leg.id AND o.already_there)
     ORDER BY leg.ended_at DESC
     LIMIT $1`,
    [lookedBack],
  );
  const pace = (some: typeof legs): number =>
    some.reduce((sum, leg) => sum + leg.samples, 0) / some.reduce((sum, leg) => sum + leg.seconds, 0);
  const corrections = new Map(
    [...ratios].map(([kind, known]) => [
      kind,
      known.length >= enough ? Math.min(4, Math.max(0.25, medianOf(known))) : 1,
    ]),
  );
  return {
    correction: (output) => corrections.get(kindOf(output)) ?? 1,
    samplesPerSecond:
      legs.length < enough
        ? null
        : (outputs) => {
            const alike = legs.filter((leg) => leg.outputs === outputs);
            return pace(alike.length >= enough ? alike : legs);
          },
  };
}

/**
 * Seconds that plans take in so many lanes by the site's own pace, and how long it may be; null where the site has none
 * yet.
 */
export function foretold(
  plans: readonly {
    outputs: readonly OutputPlan[];
    original: { video: { raster: { width: number; height: number }; frames: number } | null };
  }[],
  history: SiteHistory,
  lanes: number,
): { likely: number; most: number } | null {
  const pace = history.samplesPerSecond;
  if (!pace) return null;
  const each = plans.map(({ original: { video }, outputs }) =>
    video ? (video.raster.width * video.raster.height * video.frames) / pace(outputs.length) : 0,
  );
  const likely = Math.max(each.reduce((sum, one) => sum + one, 0) / lanes, Math.max(0, ...each));
  // Half as long again: chosen, not measured.
  return { likely, most: likely * 1.5 };
}
