import { under } from '@relay/core/naming/under';
import { planBatch } from '@relay/core/recipe/batch';
import { timeMargin } from '@relay/core/size/time';
import { addEstimates, type Estimate } from '@relay/core/size/estimate';
import { inLanes } from '@relay/work/lanes';
import { forecastLeg } from '@relay/work/leg/forecast';
import { complain, endProgress, printJson } from './output.ts';
import { Pace } from './pace.ts';
import { lutsBeside, readSource, recipeFrom, rulesFrom, sourceFolder, type SourceOptions } from './source.ts';

/** `relay forecast --source DIR --recipe FILE --json`: what a run would take, by sampled pictures; nothing is made. */
export async function forecastCommand(values: SourceOptions): Promise<number> {
  const source = await sourceFolder(values.source);
  const recipe = await recipeFrom(values.recipe);
  const rules = await rulesFrom(values.corrections);
  const { batch } = await readSource(source, values.production);
  const plans = planBatch(batch, recipe, rules);
  let done = 0;
  // One at a time: sampling measures how long things take.
  const pace = new Pace('Sampling');
  const legs = await inLanes(plans, 1, async (plan) => {
    if (!plan.ok) return null;
    const paths =
      plan.value.original.chapters.length > 0
        ? plan.value.original.chapters.map((chapter) => chapter.path)
        : [plan.value.original.path];
    const forecast = await forecastLeg(
      plan.value,
      { clip: plan.value.original, paths: paths.map((path) => under(source, ...path.split('/'))) },
      lutsBeside(values.corrections),
    );
    done += 1;
    pace.at(done, plans.length);
    return { plan: plan.value, forecast };
  });
  endProgress();
  const good = legs.filter((leg) => leg !== null);
  const of = (wanted: (deliverable: string) => boolean): Estimate[] =>
    good.flatMap(({ plan, forecast }) =>
      forecast.outputs.filter((_, index) => wanted(plan.outputs[index]?.deliverable ?? '')),
    );
  const refused = plans.flatMap((plan, index) =>
    plan.ok ? [] : [{ original: batch[index]?.clip.path ?? '', problem: plan.problem }],
  );
  const work = good.reduce((sum, { forecast }) => sum + (forecast.seconds ?? 0), 0);
  const result = {
    outputs: good.flatMap(({ plan, forecast }) =>
      plan.outputs.map((output, index) => ({
        original: plan.original.path,
        deliverable: output.deliverable,
        path: output.path,
        ...(forecast.outputs[index] as Estimate),
      })),
    ),
    deliverables: recipe.deliverables.map(({ name }) => ({
      deliverable: name,
      ...addEstimates(of((one) => one === name)),
    })),
    total: addEstimates(of(() => true)),
    originalBytes: good.reduce((sum, { plan }) => sum + plan.original.sizeBytes, 0),
    seconds: good.every(({ forecast }) => forecast.seconds === null) ? null : { likely: work, most: work * timeMargin },
    refused,
  };
  if (values.json) printJson(result);
  else {
    const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;
    for (const { deliverable, bytes, known } of [...result.deliverables, { deliverable: 'All', ...result.total }])
      process.stdout.write(
        `${deliverable}: ${megabytes(bytes.likely)} (${megabytes(bytes.least)} to ${megabytes(bytes.most)}), ${known}\n`,
      );
    if (result.seconds) process.stdout.write(`Time on this machine: about ${Math.ceil(result.seconds.likely)} s\n`);
    refused.forEach(({ problem }) => complain(`${problem.what}. ${problem.remedy}`));
  }
  return refused.length > 0 ? 1 : 0;
}
