import { pathPattern } from '@relay/contract/recipe';
import { mirrored } from '@relay/core/naming/pathPattern';
import { examinePaths, planBatch } from '@relay/core/recipe/batch';
import type { Recipe } from '@relay/core/recipe/recipe';
import { complain, Misuse, printJson } from './output.ts';
import { readSource, recipeFrom, rulesFrom, sourceFolder, type SourceOptions } from './source.ts';

/**
 * `relay paths --source DIR [--recipe FILE] [--pattern P] --json`: every path that a run would make, and what keeps any
 * from being made.
 */
export async function pathsCommand(values: SourceOptions & { pattern?: string }): Promise<number> {
  const source = await sourceFolder(values.source);
  const given = await recipeFrom(values.recipe);
  const rules = await rulesFrom(values.corrections);
  const pattern = values.pattern === undefined ? null : pathPattern.safeParse({ pattern: values.pattern });
  if (pattern && !pattern.success)
    throw new Misuse(`--pattern: ${pattern.error.issues[0]?.message ?? 'not as expected'}`);
  const recipe: Recipe = pattern
    ? {
        ...given,
        deliverables: given.deliverables.map((one) => ({
          ...one,
          path: { ...(one.path ?? mirrored), ...pattern.data },
        })),
      }
    : given;
  const { batch } = await readSource(source, values.production);
  const { paths, clashes, remedy } = examinePaths(batch, recipe, rules);
  // What has no plan at all has no path either: said with its own reason.
  const plans = planBatch(batch, recipe, rules);
  const refused = batch.flatMap(({ clip }, index) => {
    const plan = plans[index];
    return plan && !plan.ok && !clashes.some(({ original }) => original === clip.path)
      ? [{ original: clip.path, problem: plan.problem }]
      : [];
  });
  const rows = paths.map((one) => {
    const clash = clashes.find(
      ({ path, original, deliverable }) =>
        path === one.path && original === one.original && deliverable === one.deliverable,
    );
    return { ...one, clash: clash ? { kind: clash.kind, with: clash.others, what: clash.what } : null };
  });
  if (values.json)
    printJson({
      paths: rows,
      refused,
      remedy: remedy
        ? {
            text: remedy.text,
            patterns: remedy.recipe.deliverables.map(({ name, path }) => ({
              deliverable: name,
              ...(path ?? mirrored),
            })),
          }
        : null,
    });
  else {
    for (const { path, original, clash } of rows)
      process.stdout.write(`${path}  <  ${original}${clash ? `  !  ${clash.what}` : ''}\n`);
    refused.forEach(({ problem }) => complain(`${problem.what}. ${problem.remedy}`));
    if (remedy)
      complain(
        `${remedy.text}: ${[...new Set(remedy.recipe.deliverables.map(({ path }) => (path ?? mirrored).pattern))].join(', ')}`,
      );
  }
  return clashes.length + refused.length > 0 ? 1 : 0;
}
