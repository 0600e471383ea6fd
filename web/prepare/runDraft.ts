import type { SampledForecast } from '@relay/contract/forecast';
import { newRun, type LastChoice, type RunCheck } from '@relay/contract/runs';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { StoreAnswer } from '@relay/contract/site';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { placesAgain, placesNamed, type Places } from '@relay/core/recipe/places';
import { z } from 'zod';
import { isWrongHour } from './hours.ts';

/** A run that is being prepared: what stands in its form. */
export interface RunDraft {
  name: string;
  recipe: string;
  store: string;
  folder: string;
  /** Places of deliverables that go elsewhere, by their folders. */
  places: Places;
  inWaves: boolean;
  /** Hours as they are typed. */
  notBefore: string;
  wantedBy: string;
}

const hour = z.string().refine((typed) => !isWrongHour(typed), 'an hour is HH:MM');

/** What the form takes, by the rules that the server has for it; hours as they are typed. */
export const runForm: z.ZodType<RunDraft> = z.object({
  name: newRun.shape.name,
  recipe: newRun.shape.recipe,
  store: newRun.shape.store,
  folder: newRun.shape.folder,
  places: newRun.shape.places.unwrap(),
  inWaves: z.boolean(),
  notBefore: hour,
  wantedBy: hour,
});

interface KnownHere {
  production: { name: string; runs: number };
  recipes: readonly RecipeAnswer[];
  /** Stores that outputs may go to. */
  stores: readonly StoreAnswer[];
  last: LastChoice;
  /** What outputs of a production that never ran anything lie in. */
  folder: string;
}

/** What stands in a run's form before anybody typed: what was run last here, as far as it is still there. */
export function proposedRun({ production, recipes, stores, last, folder }: KnownHere): RunDraft {
  const recipe = recipes.find(({ id }) => id === last?.recipe) ?? recipes[0];
  const again = last !== null && stores.some(({ id }) => id === last.store);
  return {
    name: `Run ${production.runs + 1}`,
    recipe: recipe?.id ?? '',
    // Outputs never lie among the originals, so the last store is proposed, not the one that was read.
    store: again ? last.store : (stores.at(-1)?.id ?? ''),
    folder: again ? last.folder : folder,
    places: placesProposed(recipe, again ? last : null),
    inWaves: false,
    notBefore: '',
    wantedBy: '',
  };
}

/** The places that a recipe's deliverables had the last time, or else that it names. */
export function placesProposed(recipe: RecipeAnswer | undefined, last: LastChoice): Places {
  if (!recipe) return {};
  return last?.recipe === recipe.id
    ? placesAgain(recipe.definition, recipe.version, last)
    : placesNamed(recipe.definition);
}

/**
 * A folder of a store for outputs: the one that is wanted, or one beside the originals where it would lie among them:
 * whoever picks their store should not have to find out. Of a store that was read whole there is none.
 */
export function folderOn(store: string, folder: string, originals: readonly OutputPlace[]): string {
  const among = originals.find(
    (one) => one.store === store && one.folder !== '' && `${folder}/`.startsWith(`${one.folder}/`),
  );
  return among ? `${among.folder}-outputs${folder.slice(among.folder.length)}` : folder;
}

/** What is known of a run before it starts: what was sampled is closer than what rates tell. */
export function closerBy(check: RunCheck, sampled: SampledForecast | undefined): RunCheck {
  if (!sampled) return check;
  const closer = new Map(sampled.deliverables.map((one) => [one.deliverable, one]));
  return {
    ...check,
    bytes: sampled.bytes,
    seconds: sampled.seconds ?? check.seconds,
    deliverables: check.deliverables.map((one) => ({ ...one, ...closer.get(one.deliverable) })),
  };
}

/** Stores whose disk the run may fill, when its turn comes; those of one disk share its room. */
export function tooFull({ stores }: Pick<RunCheck, 'stores'>): RunCheck['stores'] {
  return stores.filter(({ disk, freeBytes }) => {
    const beside = stores.filter((one) => one.disk === disk);
    const wanted = beside.reduce((sum, one) => sum + one.bytesAtMost + one.promisedBytes, 0);
    return wanted > freeBytes;
  });
}

/** Whether a run can be started: what was checked is what stands in the form, and there is room. */
export function canStart(check: RunCheck | undefined, isChecked: boolean): boolean {
  return (
    check !== undefined &&
    isChecked &&
    check.clips > 0 &&
    check.stores.every(({ there }) => there) &&
    tooFull(check).length === 0
  );
}

/** Whether sampling pictures would tell more than is known. */
export function wantsSampling({ deliverables }: RunCheck): boolean {
  return deliverables.some(({ known }) => known === 'roughly' || known === 'by published rates');
}
