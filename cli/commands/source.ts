import { readFile, realpath, stat } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import { correctionsFile, recipe as recipeSchema } from '@relay/contract/recipe';
import { pngSize } from '@relay/core/burn/png';
import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { CorrectionRule } from '@relay/core/corrections/corrections';
import type { Identity } from '@relay/core/identity/identity';
import type { BatchClip } from '@relay/core/recipe/batch';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { recipesTogether } from '@relay/core/recipe/together';
import { readFolder } from '@relay/work/read/readFolder';
import type { LutText } from '@relay/work/leg/colour';
import type { ImageBytes } from '@relay/work/leg/ready';
import { dayOf } from '@relay/core/time/day';
import { filesBelow } from '@relay/work/disk/walk';
import type { ZodType } from 'zod';
import { complain, endProgress, Misuse } from './output.ts';
import { Pace } from './pace.ts';

async function readChecked<T>(path: string, schema: ZodType<T>, what: string): Promise<T> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Misuse(`${path} cannot be read`);
  });
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Misuse(`${path} is no JSON: ${(error as Error).message}`);
  }
  const parsed = schema.safeParse(json);
  if (parsed.success) return parsed.data;
  const first = parsed.error.issues[0];
  throw new Misuse(
    `${path} is no ${what}: ${first?.path.join('.') || 'the file'}: ${first?.message ?? 'not as expected'}`,
  );
}

/** LUTs that a corrections file names by paths, absolute or beside it. */
export function lutsBeside(corrections: string | undefined): LutText {
  return async (path) => {
    const whole = resolve(dirname(corrections ?? '.'), path);
    const text = await readFile(whole, 'utf8').catch(() => null);
    return text === null ? null : { text, fileName: whole };
  };
}

/** Pictures that a recipe file lays over, by paths absolute or beside it. */
export function imagesBeside(recipeFile: string | undefined): ImageBytes {
  return (path) => readFile(resolve(dirname(recipeFile ?? '.'), path)).catch(() => null);
}

/** The recipe with the true sizes of its pictures; refuses those that are not there or are no pictures. */
async function withImages(recipe: Recipe, recipeFile: string | undefined): Promise<Recipe> {
  const bytesOf = imagesBeside(recipeFile);
  const deliverables = await Promise.all(
    recipe.deliverables.map(async (deliverable) => {
      const image = deliverable.burn?.image;
      if (!deliverable.burn || !image) return deliverable;
      const bytes = await bytesOf(image.image);
      if (!bytes) throw new Misuse(`${image.image}, laid over the ${deliverable.name.toLowerCase()}, is not there`);
      const size = pngSize(bytes);
      if (!size.ok)
        throw new Misuse(
          `${image.image} cannot be laid over: ${size.problem.what.toLowerCase()}. ${size.problem.remedy}`,
        );
      return { ...deliverable, burn: { ...deliverable.burn, image: { ...image, ...size.value } } };
    }),
  );
  return { ...recipe, deliverables };
}

/** Recipes in files as one, their pictures by absolute paths; the first starter recipe without any. @throws Misuse */
export async function recipesFrom(files: readonly string[]): Promise<Recipe> {
  const recipes = await Promise.all(
    files.map(async (file) => {
      const recipe = await recipeFrom(file);
      const deliverables = recipe.deliverables.map((one) =>
        one.burn?.image
          ? {
              ...one,
              burn: { ...one.burn, image: { ...one.burn.image, image: resolve(dirname(file), one.burn.image.image) } },
            }
          : one,
      );
      return { ...recipe, deliverables };
    }),
  );
  const together = recipesTogether(recipes.length > 0 ? recipes : [finishAndCut]);
  if (together.ok) return together.value;
  throw new Misuse(`${together.problem.what}. ${together.problem.remedy}`);
}

/** The recipe in a file, checked, or the first starter recipe. */
export async function recipeFrom(file: string | undefined): Promise<Recipe> {
  return file ? withImages(await readChecked(file, recipeSchema, 'recipe'), file) : finishAndCut;
}

/** The rules in a corrections file, checked; none without one. */
export async function rulesFrom(file: string | undefined): Promise<CorrectionRule[]> {
  return file ? (await readChecked(file, correctionsFile, 'corrections file')).rules : [];
}

/** What was read of a folder for a run. */
export interface SourceRead {
  /** The folder, links followed. */
  source: string;
  whole: string;
  clips: ClipDescription[];
  batch: BatchClip[];
  refusals: Refusal[];
}

/** What every command takes that reads a folder as a run does. */
export interface SourceOptions {
  source: string;
  recipe?: string;
  corrections?: string;
  production?: string;
  json?: boolean;
}

/** Checks that a folder is there. */
export async function sourceFolder(source: string): Promise<string> {
  if (!(await stat(source).catch(() => null))?.isDirectory()) throw new Misuse(`${source} is not a folder`);
  return realpath(source);
}

/** A clip as a run is handed it: what somebody or its sidecars said of it goes into names and burn-ins. */
export function batchClipOf(
  clip: ClipDescription,
  identity: Identity | undefined,
  whole: string,
  production: string,
): BatchClip {
  const { scene = null, take = null, camera = null } = identity ?? {};
  return { clip, whole, facts: { scene, take, camera, production, date: dayOf(new Date()) } };
}

/**
 * Reads a folder as a run does: every clip with a picture, in the order of their paths. What was not seen or is left
 * aside is said on standard error.
 */
export async function readSource(source: string, productionName?: string): Promise<SourceRead> {
  const { files, unseen } = await filesBelow(source);
  unseen.forEach((entry) => complain(`${entry.shownPath}: ${entry.why}`));
  const pace = new Pace('Reading');
  const read = await readFolder(files, (done) => pace.at(done, files.length));
  endProgress();
  const described = read.clips.map(({ clip, identity }): ClipDescription => ({ ...clip, reel: identity.reel }));
  const clips = described.filter((clip) => clip.video !== null);
  described
    .filter((clip) => clip.video === null)
    .forEach((clip) =>
      complain(`${clip.path} is sound without a picture and is left aside: no deliverable is made of it`),
    );
  const whole = basename(source);
  const production = productionName ?? whole;
  const identities = new Map(read.clips.map(({ clip, identity }) => [clip.path, identity]));
  const batch = clips.map((clip) => batchClipOf(clip, identities.get(clip.path), whole, production));
  return { source, whole, clips, batch, refusals: read.refusals };
}
