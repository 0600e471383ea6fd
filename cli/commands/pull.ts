import { mkdir, realpath } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, resolve } from 'node:path';
import type { RunResult } from '@relay/contract/run';
import { usualCopyRule } from '@relay/core/custody/clearing';
import { under } from '@relay/core/naming/under';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Result } from '@relay/core/result';
import type { ClipDescription } from '@relay/core/clip/description';
import { planBatch, type BatchClip } from '@relay/core/recipe/batch';
import { soundKeptOut } from '@relay/core/recipe/soundAlone';
import { pullOf, pulledFrames, type Pull } from '@relay/core/relink/pull';
import { rehearsed } from '@relay/core/relink/rehearsal';
import { arrive, type ArrivalResult } from '@relay/work/arrive/arrive';
import { partOfFiles } from '@relay/work/cut/part';
import { readListFor } from '@relay/work/cut/readList';
import { home } from '../site/home.ts';
import { listBytes, rateAsked, readOrRefused } from './cut.ts';
import { stopSignal } from './interrupt.ts';
import { makeAll, type Job } from './making.ts';
import { complain, endProgress, Misuse, printJson, progressLine } from './output.ts';
import { outFolder, outPlaces } from './places.ts';
import { originalsBelow, outputsOf, type OriginalBelow } from './rehearse.ts';
import { imagesBeside, lutsBeside, recipeFrom, rulesFrom, sourceFolder } from './source.ts';

export interface PullOptions {
  cut: string;
  media: string[];
  out: string;
  /** Copied whole; else made by the recipe, stretch by stretch. */
  copy?: boolean;
  recipe?: string;
  corrections?: string;
  sheet?: string;
  rate?: string;
  handles: string;
  gap: string;
  json?: boolean;
}

function framesIn(name: string, text: string): number {
  const value = Number(text);
  if (!Number.isInteger(value) || value < 0 || value > 100_000) throw new Misuse(`--${name} takes whole frames from 0`);
  return value;
}

/**
 * `relay pull`: makes the stretches of originals that a cut uses, with handles, by a recipe, each as an output of its own;
 * or with `--copy` copies the originals whole, with what lies beside them, proved and with a manifest. Exit code 0 where
 * every event is found and everything made or copied is proved.
 */
export async function pullCommand(options: PullOptions): Promise<number> {
  const wish = { handles: framesIn('handles', options.handles), gap: framesIn('gap', options.gap) };
  if (options.copy && (options.recipe !== undefined || options.corrections !== undefined))
    throw new Misuse('--copy copies originals as they are: it takes neither --recipe nor --corrections');
  const given = rateAsked(options.rate);
  const bytes = await listBytes(options.cut);
  const originals = await originalsBelow(options.media);
  const outputs = await outputsOf(options.sheet, originals);
  const cut = readOrRefused(options.cut, await readListFor(bytes, given, originals, outputs));
  const { matches } = rehearsed(cut, originals, outputs);
  const pull = pullOf(matches, originals, wish);
  const used = [...new Set(pull.stretches.map(({ original }) => original))].map(
    (index) => originals[index] as OriginalBelow,
  );
  const results = options.copy ? null : await made(pull, originals, options);
  const copies = options.copy ? await copied(used, options.out) : null;
  const answer = {
    stretches: pull.stretches.map(({ original, frames, short, events }, index) => ({
      original: originals[original]?.path ?? '',
      from: frames.from,
      to: frames.to,
      handlesShort: short,
      events: events.map((event) => cut.events[event]?.number ?? ''),
      ...(results ? { made: results[index] } : {}),
    })),
    frames: pulledFrames(pull),
    left: pull.left.map((event) => ({ event: cut.events[event]?.number ?? '', why: matches[event]?.why ?? '' })),
    ...(copies ? { copies } : {}),
  };
  if (options.json) printJson(answer);
  else {
    for (const { original, from, to, made: result } of answer.stretches)
      process.stdout.write(
        `${original}, frames ${from} to ${to}${result ? `: ${result.state}${result.problem ? `. ${result.problem.what}. ${result.problem.remedy}` : ''}` : ''}\n`,
      );
    for (const { event, why } of answer.left) process.stdout.write(`event ${event} is not pulled: ${why}\n`);
    for (const { folder, state, files } of copies ?? []) process.stdout.write(`${folder}: ${state}, ${files} files\n`);
  }
  const whole = [...(results ?? []), ...(copies ?? [])].every((one) => one === null || one.state === 'proved');
  return answer.left.length === 0 && whole ? 0 : 1;
}

/**
 * Makes every stretch by the recipe; the results in their order, null for those of sound alone that the recipe makes
 * nothing of: they are said.
 */
async function made(
  pull: Pull,
  originals: readonly OriginalBelow[],
  { out: wanted, recipe: file, corrections }: PullOptions,
): Promise<(RunResult | null)[]> {
  const recipe = await recipeFrom(file);
  const rules = await rulesFrom(corrections);
  const sources = await Promise.all([...new Set(originals.map(({ folder }) => folder))].map(sourceFolder));
  let out = wanted;
  for (const source of sources) out = await outFolder(wanted, source, '--out');
  const places = await outPlaces({ recipe, source: sources[0] ?? out, out, given: [] });
  const taken: { place: number; source: string; batch: BatchClip; part: Result<ClipDescription> }[] = [];
  for (const [place, { original, frames }] of pull.stretches.entries()) {
    const { folder, batch, path } = originals[original] as OriginalBelow;
    const keptOut = soundKeptOut(batch.clip, recipe);
    if (keptOut) {
      complain(`${path} is ${keptOut}: it is left aside`);
      continue;
    }
    const source = await sourceFolder(folder);
    taken.push({ place, source, batch, part: await partOfFiles(source, batch.clip, frames) });
  }
  const good = taken.flatMap(({ batch, part }) => (part.ok ? [{ ...batch, clip: part.value }] : []));
  const plans = planBatch(good, recipe, rules);
  const planOf = new Map(good.map(({ clip }, index) => [clip, plans[index] as Result<LegPlan>]));
  const jobs = taken.map(({ source, batch, part }): Job => ({
    source,
    whole: batch.whole,
    clip: part.ok ? part.value : batch.clip,
    plan: part.ok ? (planOf.get(part.value) as Result<LegPlan>) : part,
  }));
  const results = await makeAll(jobs, {
    out,
    places,
    lutText: lutsBeside(corrections),
    imageBytes: imagesBeside(file),
  });
  const byPlace = new Map(taken.map(({ place }, index) => [place, results[index] ?? null]));
  return pull.stretches.map((_, place) => byPlace.get(place) ?? null);
}

interface CopiedFolder {
  folder: string;
  state: ArrivalResult['state'];
  files: number;
  manifest: string | null;
  problems: string[];
}

/** Copies originals with what belongs to them below `out`, in a folder for each that they were found below. */
async function copied(used: readonly OriginalBelow[], out: string): Promise<CopiedFolder[]> {
  await mkdir(out, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${out} cannot be made (${error.code})`);
  });
  const root = await realpath(out);
  const done: CopiedFolder[] = [];
  for (const folder of new Set(used.map((one) => one.folder))) {
    const name = basename(resolve(folder));
    const result = await arrive({
      roll: name,
      card: await realpath(folder),
      only: new Set(used.filter((one) => one.folder === folder).flatMap(({ files }) => files)),
      journals: under(home, 'journals'),
      hash: 'xxh128',
      alsoMd5: false,
      rule: { ...usualCopyRule, copies: 1, stores: 1 },
      owner: `pull.${hostname()}.${process.pid}`,
      host: hostname(),
      signal: stopSignal(),
      destinations: [{ store: out, at: { root, folder: name } }],
      onProgress: ({ files, filesDone }) => progressLine(`${filesDone} of ${files} files`),
    });
    endProgress();
    const [copy] = result.copies;
    const problems = [copy?.problem ?? null, ...result.problems].filter((one) => one !== null);
    problems.forEach(({ what, remedy }) => complain(`${what}. ${remedy}`));
    done.push({
      folder: copy?.folder ?? '',
      state: result.state,
      files: copy?.filesProved ?? 0,
      manifest: copy?.manifest ?? null,
      problems: problems.map(({ what }) => what),
    });
  }
  return done;
}
