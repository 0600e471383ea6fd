import { mkdir, readFile, realpath, stat } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, dirname, join, resolve, sep } from 'node:path';
import { parseArgs } from 'node:util';
import { correctionsFile, recipe as recipeSchema } from '@relay/contract/recipe';
import type { RunResult } from '@relay/contract/run';
import { pngSize } from '@relay/core/burn/png';
import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import type { CorrectionRule } from '@relay/core/corrections/corrections';
import { planBatch } from '@relay/core/recipe/batch';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import { isAlive } from '@relay/media/process/alive';
import { inLanes } from '@relay/server/clips/readFiles';
import { readFolder } from '@relay/server/clips/readFolder';
import type { ImageBytes } from '@relay/server/runs/ready';
import type { LutText } from '@relay/server/runs/colour';
import { runLeg } from '@relay/server/runs/leg';
import { dayOf } from '@relay/server/runs/plans';
import { openSheet } from '@relay/server/runs/sheet';
import { discardAbandoned } from '@relay/server/stores/place';
import { filesBelow } from '@relay/server/stores/walk';
import { complain, endProgress, Misuse, printJson, progressLine } from './output.ts';
import type { ZodType } from 'zod';

/** Legs at a time: FFmpeg's filters and one of its encoders keep one core busy, so two fill two cores. */
const slots = 2;

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
  throw new Misuse(`${path} is no ${what}: ${first?.path.join('.') || 'the file'}: ${first?.message ?? 'not as expected'}`);
}

/** A file that looks like a clip but cannot be one is somebody's loss; what merely lies beside the clips is not. */
function isLoss(refusal: Refusal): boolean {
  const { kind } = refusal.problem;
  if (kind === 'sidecar' || kind === 'chapter') return false;
  return kind !== 'not-media' || /\.(mov|mp4|m4v|mxf|mts|m2ts|ts|avi|mkv|3gp|mpg|wav)$/i.test(refusal.path);
}

/** LUTs that a corrections file names by paths, absolute or beside it. */
function lutsBeside(corrections: string | undefined): LutText {
  return async (path) => {
    const whole = resolve(dirname(corrections ?? '.'), path);
    const text = await readFile(whole, 'utf8').catch(() => null);
    return text === null ? null : { text, fileName: whole };
  };
}

/** Pictures that a recipe file lays over, by paths absolute or beside it. */
function imagesBeside(recipeFile: string | undefined): ImageBytes {
  return (path) => readFile(resolve(dirname(recipeFile ?? '.'), path)).catch(() => null);
}

/** The recipe with the true sizes of its pictures; refuses those that are not there or are no pictures. */
async function withImages(recipe: Recipe, recipeFile: string | undefined): Promise<Recipe> {
  const bytesOf = imagesBeside(recipeFile);
  const deliverables = await Promise.all(recipe.deliverables.map(async (deliverable) => {
    const image = deliverable.burn?.image;
    if (!deliverable.burn || !image) return deliverable;
    const bytes = await bytesOf(image.image);
    if (!bytes) throw new Misuse(`${image.image}, laid over the ${deliverable.name.toLowerCase()}, is not there`);
    const size = pngSize(bytes);
    if (!size.ok) throw new Misuse(`${image.image} cannot be laid over: ${size.problem.what.toLowerCase()}. ${size.problem.remedy}`);
    return { ...deliverable, burn: { ...deliverable.burn, image: { ...image, ...size.value } } };
  }));
  return { ...recipe, deliverables };
}

/** `relay run --source DIR --out DIR [--recipe FILE] [--corrections FILE] [--production NAME] --json`. */
export async function runCommand(args: string[]): Promise<number> {
  const { values } = parseArgs({
    args,
    options: { source: { type: 'string' }, out: { type: 'string' }, recipe: { type: 'string' }, corrections: { type: 'string' }, production: { type: 'string' }, json: { type: 'boolean' } },
  });
  if (!values.source || !values.out) throw new Misuse('run needs --source DIR and --out DIR');
  const facts = await stat(values.source).catch(() => null);
  if (!facts?.isDirectory()) throw new Misuse(`${values.source} is not a folder`);
  const recipe: Recipe = values.recipe ? await withImages(await readChecked(values.recipe, recipeSchema, 'recipe'), values.recipe) : finishAndCut;
  const rules: CorrectionRule[] = values.corrections ? (await readChecked(values.corrections, correctionsFile, 'corrections file')).rules : [];

  const source = await realpath(values.source);
  const out = resolve(values.out);
  if (`${out}${sep}`.startsWith(source + sep)) throw new Misuse('--out lies inside --source: outputs are never mixed with originals');
  await mkdir(out, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${values.out} cannot be made (${error.code})`);
  });
  if (`${await realpath(out)}${sep}`.startsWith(source + sep)) throw new Misuse('--out lies inside --source: outputs are never mixed with originals');

  const stop = new AbortController();
  const onSignal = (): void => stop.abort();
  process.once('SIGINT', onSignal);
  process.once('SIGTERM', onSignal);

  const { files, unseen } = await filesBelow(source);
  unseen.forEach((entry) => complain(`${entry.shownPath}: ${entry.why}`));
  const read = await readFolder(files, (done) => progressLine(`Reading ${done} of ${files.length}`));
  const described = read.clips.map(({ clip, identity }): ClipDescription => ({ ...clip, reel: identity.reel }));
  const clips = described.filter((clip) => clip.video !== null);
  described.filter((clip) => clip.video === null).forEach((clip) => complain(`${clip.path} is sound without a picture and is left aside: no deliverable is made of it`));
  const { refusals } = read;
  const whole = basename(source);
  const production = values.production ?? whole;
  const identities = new Map(read.clips.map(({ clip, identity }) => [clip.path, identity]));
  const plans = planBatch(clips.map((clip) => {
    const { scene = null, take = null, camera = null } = identities.get(clip.path) ?? {};
    return { clip, whole, facts: { scene, take, camera, production, date: dayOf(new Date()) } };
  }), recipe, rules);
  const sheet = await openSheet(out).catch((error: Error) => {
    throw new Misuse(error.message);
  });
  // What an earlier run on this machine left when it was killed; others may be at work here at the same time.
  const mark = `cli.${hostname()}.`;
  await discardAbandoned(out, (owner) => owner.startsWith(mark) && !isAlive(Number(owner.slice(mark.length).split('.')[0])));
  const batch = `${mark}${process.pid}`;

  const shares = new Map<number, string>();
  const say = (): void => progressLine([...shares.values()].join('  '));
  const results: RunResult[] = await inLanes(clips, slots, async (clip, index) => {
    const plan = plans[index];
    if (!plan?.ok) return { original: clip.path, state: 'failed' as const, said: [], outputs: [], problem: plan?.problem ?? null };
    const said = sayPlan(plan.value);
    const leg = await runLeg(plan.value, {
      source: join(source, ...clip.path.split('/')), outRoot: out, owner: `${batch}.${index}`, whole, signal: stop.signal,
      lutText: lutsBeside(values.corrections), imageBytes: imagesBeside(values.recipe),
      recorded: (path) => sheet.recorded(path),
      record: (row) => sheet.record(row),
      onProgress: ({ framesDone, framesTotal, speed }) => {
        shares.set(index, `${clip.stem} ${Math.floor((100 * framesDone) / Math.max(1, framesTotal))} %${speed ? ` ${speed.toFixed(1)}×` : ''}`);
        say();
      },
    });
    shares.delete(index);
    return { original: clip.path, state: leg.state, said, outputs: leg.outputs, problem: leg.problem };
  });
  endProgress();
  for (const refusal of refusals) {
    if (isLoss(refusal)) results.push({ original: refusal.path, state: 'failed', said: [], outputs: [], problem: { what: refusal.problem.what, remedy: refusal.problem.remedy } });
    else if (refusal.problem.kind !== 'sidecar' && refusal.problem.kind !== 'chapter') complain(refusal.problem.what);
  }
  results.sort((a, b) => (a.original < b.original ? -1 : 1));
  if (values.json) printJson(results);
  else {
    for (const result of results) {
      process.stdout.write(`${result.original}: ${result.state}${result.problem ? `. ${result.problem.what}. ${result.problem.remedy}` : ''}\n`);
    }
  }
  return results.every((result) => result.state === 'proved') ? 0 : 1;
}
