import type { Refusal } from '@relay/core/clip/description';
import { planBatch } from '@relay/core/recipe/batch';
import { makeAll, sayResult } from './making.ts';
import { complain, printJson } from './output.ts';
import { outFolder, outPlaces } from './places.ts';
import {
  imagesBeside,
  lutsBeside,
  readSource,
  recipeFrom,
  rulesFrom,
  sourceFolder,
  type SourceOptions,
} from './source.ts';

/** A file that looks like a clip but cannot be one is somebody's loss; what merely lies beside the clips is not. */
function isLoss(refusal: Refusal): boolean {
  const { kind } = refusal.problem;
  if (kind === 'sidecar' || kind === 'chapter') return false;
  return kind !== 'not-media' || /\.(mov|mp4|m4v|mxf|mts|m2ts|ts|avi|mkv|3gp|mpg|wav)$/i.test(refusal.path);
}

/** `relay run --source DIR --out DIR [--recipe FILE] [--place STORE=DIR]… [--corrections FILE] [--production NAME] --json`. */

export async function runCommand(values: SourceOptions & { out: string; place?: string[] }): Promise<number> {
  const source = await sourceFolder(values.source);
  const recipe = await recipeFrom(values.recipe);
  const rules = await rulesFrom(values.corrections);

  const out = await outFolder(values.out, source, '--out');
  const places = await outPlaces({ recipe, source, out, given: values.place ?? [] });

  const { clips, batch, refusals, whole } = await readSource(source, values.production);
  const plans = planBatch(batch, recipe, rules);
  const jobs = clips.flatMap((clip, index) => {
    const plan = plans[index];
    return plan ? [{ clip, plan, source, whole }] : [];
  });
  const results = await makeAll(jobs, {
    out,
    places,
    lutText: lutsBeside(values.corrections),
    imageBytes: imagesBeside(values.recipe),
  });
  for (const refusal of refusals) {
    if (isLoss(refusal))
      results.push({
        original: refusal.path,
        state: 'failed',
        said: [],
        outputs: [],
        problem: { what: refusal.problem.what, remedy: refusal.problem.remedy },
      });
    else if (refusal.problem.kind !== 'sidecar' && refusal.problem.kind !== 'chapter') complain(refusal.problem.what);
  }
  results.sort((a, b) => (a.original < b.original ? -1 : 1));
  if (values.json) printJson(results);
  else {
    for (const result of results) process.stdout.write(`${sayResult(result)}\n`);
  }
  return results.every((result) => result.state === 'proved') ? 0 : 1;
}
