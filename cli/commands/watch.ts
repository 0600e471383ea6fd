import { basename } from 'node:path';
import type { WatchEvent } from '@relay/contract/watch';
import type { ArrivalRules } from '@relay/core/inlet/ready';
import { receiptForms, type ReceiptForm } from '@relay/core/inlet/receipt';
import { planBatch } from '@relay/core/recipe/batch';
import { LikeClips } from '@relay/core/size/likeClips';
import { dayOf } from '@relay/core/time/day';
import { mountOf, mountsNow, tellsOfChanges } from '@relay/work/disk/mounts';
import { AloneInlet } from '@relay/work/watch/aloneInlet';
import { InletMemory, MemoryTaken } from '@relay/work/watch/memory';
import { stopSignal } from './interrupt.ts';
import { Misuse } from './output.ts';
import { ownMark } from './ownMark.ts';
import { outFolder, outPlaces } from './places.ts';
import { imagesBeside, lutsBeside, recipesFrom, rulesFrom, sourceFolder, type SourceOptions } from './source.ts';

export interface WatchOptions extends Omit<SourceOptions, 'recipe' | 'json'> {
  out: string;
  recipe?: string[];
  place?: string[];
  quiet?: string;
  partner?: string;
  done?: string;
  receipt?: string;
  once?: boolean;
  jsonLines?: boolean;
}

/** Legs at a time; as `relay run`. */
const lanes = 2;
const usualQuiet = 15;
const mostQuiet = 86_400;

function arrivalRules({ quiet, partner }: WatchOptions): ArrivalRules {
  const seconds = quiet === undefined ? usualQuiet : Number(quiet);
  if (!(quiet === undefined || /^\d+(\.\d+)?$/.test(quiet)) || seconds > mostQuiet)
    throw new Misuse(`--quiet takes seconds from 0 to ${mostQuiet}, not ${quiet ?? ''}`);
  if (partner !== undefined && !/^\.?[\p{L}\p{N}_-]{1,20}$/u.test(partner))
    throw new Misuse(`--partner takes an ending such as done, not ${partner}`);
  return { quietMs: seconds * 1000, partner: partner === undefined ? null : { ending: partner, needed: false } };
}

function moves({ done = 'stay' }: WatchOptions): boolean {
  if (done !== 'stay' && done !== 'move') throw new Misuse(`--done takes stay or move, not ${done}`);
  return done === 'move';
}

function receiptsOf({ receipt = 'none' }: WatchOptions): ReceiptForm[] {
  if (receipt === 'none') return [];
  if (receipt === 'both') return [...receiptForms];
  const form = receiptForms.find((one) => one === receipt);
  if (!form) throw new Misuse(`--receipt takes none, json, text or both, not ${receipt}`);
  return [form];
}

/** What happened, for people. */
function inWords(event: WatchEvent): string {
  switch (event.event) {
    case 'watching':
      return `Watching ${event.source}; outputs go to ${event.out}; ${event.known} files are known`;
    case 'waits':
      return `${event.thing}: waits, ${event.why}`;
    case 'taken':
      return `${event.thing}: taken up (${event.files} ${event.files === 1 ? 'file' : 'files'})`;
    case 'known':
      return `${event.path}: ${event.result ? 'is a result' : 'was taken up before'}, as ${event.as}`;
    case 'begun':
      return `${event.original}: begun`;
    case 'made':
      return `${event.original}: ${event.state}`;
    case 'left':
      return `${event.path}: left. ${event.what}. ${event.remedy}`;
    case 'moved':
      return `${event.from}: moved to ${event.to}`;
    case 'away':
    case 'back':
      return event.what;
    case 'ended':
      return `${event.made} made, ${event.left} left, ${event.waiting} still wait`;
  }
}

/**
 * `relay watch --source DIR --out DIR [--recipe FILE]… [--quiet SECONDS] [--partner ENDING] [--done move|stay]
 * [--receipt json|text|both] [--once] --json-lines`.
 */
export async function watchCommand(options: WatchOptions): Promise<number> {
  const rules = arrivalRules(options);
  const moving = moves(options);
  const receipts = receiptsOf(options);
  const source = await sourceFolder(options.source);
  const recipe = await recipesFrom(options.recipe ?? []);
  const corrections = await rulesFrom(options.corrections);
  const out = await outFolder(options.out, source, '--out');
  const places = await outPlaces({ recipe, source, out, given: options.place ?? [] });
  const memory = await InletMemory.open(out).catch((error: unknown) => {
    throw error instanceof MemoryTaken ? new Misuse(error.message) : error;
  });
  const whole = basename(source);
  const facts = { scene: null, take: null, camera: null, production: options.production ?? whole };
  const tell = (event: WatchEvent): void => {
    const line = { at: new Date().toISOString(), ...event };
    process.stdout.write(`${options.jsonLines ? JSON.stringify(line) : inWords(event)}\n`);
  };
  const signal = stopSignal();
  tell({ event: 'watching', source, out, known: memory.taken.size });
  let eyes = false;
  const inlet = new AloneInlet({
    source,
    out,
    outs: places.folders,
    rules,
    memory,
    plan: (clips) =>
      planBatch(
        clips.map((clip) => ({ clip, whole, facts: { ...facts, date: dayOf(new Date()) } })),
        recipe,
        corrections,
      ),
    leg: {
      whole,
      likeClips: new LikeClips(),
      lutText: lutsBeside(options.corrections),
      imageBytes: imagesBeside(undefined),
      elsewhere: places.elsewhere,
      recorded: places.recorded,
      record: places.record,
    },
    owner: await ownMark(places.folders),
    originalOf: places.originalOf,
    moves: moving,
    receipts,
    once: options.once ?? false,
    lanes,
    events: tellsOfChanges(mountOf(await mountsNow('/proc/self/mountinfo'), source)),
    tell: (event) => {
      eyes ||= event.event === 'made' && event.state === 'needs eyes';
      tell(event);
    },
    signal,
  });
  const ended = await inlet.follow();
  await memory.close();
  tell({ event: 'ended', ...ended });
  return ended.left === 0 && ended.waiting === 0 && !eyes ? 0 : 1;
}
