import { stat } from 'node:fs/promises';
import type { OutputEnd, WatchEvent } from '@relay/contract/watch';
import type { OutputResult } from '@relay/contract/run';
import type { ClipDescription } from '@relay/core/clip/description';
import { sayWaiting, type ArrivalRules } from '@relay/core/inlet/ready';
import type { Thing } from '@relay/core/inlet/things';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { fail, type Problem, type Result } from '@relay/core/result';
import { hashSamples } from '../disk/hash.ts';
import { diskProblem } from '../disk/diskProblem.ts';
import { holding } from '../disk/held.ts';
import { moveInto } from '../disk/place.ts';
import { runLeg } from '../leg/leg.ts';
import type { LegSurroundings } from '../leg/outcome.ts';
import { outputIn, rootOf } from '../leg/outputPlace.ts';
import { Follower, type Ready, type StillWaiting } from './follower.ts';
import type { Seen } from './listing.ts';
import type { InletMemory } from './memory.ts';
import { stoppedBy, takeUp, type ArrivedClip, type TakenUp } from './takeUp.ts';

/** Folders beside what arrives, for what was dealt with, where it is moved. */
export const movedFolders = { done: 'done', left: 'left' } as const;

export interface FolderInletOptions {
  source: string;
  out: string;
  rules: ArrivalRules;
  memory: InletMemory;
  /** What is to become of clips that were taken up together, in their order. */
  plan: (clips: readonly ClipDescription[]) => Result<LegPlan>[];
  /** Of each leg, beside what it is made from and where it goes. */
  leg: Omit<LegSurroundings, 'sourceRoot' | 'outRoot' | 'owner' | 'signal'>;
  /** Marks what is being made as this process's. */
  owner: string;
  /** The original that an output at a path was made of; null for none. */
  originalOf: (path: string, place?: OutputPlace) => string | null;
  /** Whether originals are moved when they are dealt with. */
  moves: boolean;
  /** Ends when all that is there was dealt with. */
  once: boolean;
  /** Legs at a time. */
  lanes: number;
  /** As `FollowOptions` has them. */
  events?: boolean;
  everyMs?: number;
  /** Milliseconds until what may go better by itself is first tried again. */
  againMs?: number;
  tell: (event: WatchEvent) => void;
  signal: AbortSignal;
}

/** Something that was taken up, until all of it is dealt with. */
interface InHand {
  ready: Ready;
  /** Clips of it that are still to be made, or under way. */
  toCome: number;
  /** What became of its parts. */
  ends: ('proved' | 'looked at' | 'left' | 'again')[];
}

interface Job {
  inHand: InHand;
  clip: ArrivedClip;
  plan: LegPlan;
}

/** Clips that are read ahead of what is made. */
const mostAhead = 64;
/** Things that are read together: few at first, so that the first leg begins at once; then more. */
const together = { first: 2, most: 32 } as const;
/** Until what may go better by itself is tried again: at first, and at most. */
const againMs = { first: 30_000, most: 900_000 } as const;
/** For how long the first leg of a batch is waited for before more is read. */
const goingMs = 2_000;
/** How often a disk that is away is looked for. */
const awayMs = 2_000;

const endOf = ({ deliverable, path, state, alreadyThere, sizeBytes }: OutputResult): OutputEnd => ({
  deliverable,
  path,
  state,
  alreadyThere,
  sizeBytes,
});

/** Follows a folder and makes what arrives, until it is told to stop; needs no database. */
export class FolderInlet {
  private readonly follower: Follower;
  private readonly toRead: Ready[] = [];
  private readonly jobs: Job[] = [];
  private readonly said = new Map<string, string>();
  private readonly timers = new Set<NodeJS.Timeout>();
  private readonly unseen = new Set<string>();
  private readonly idle = { reading: false, lanes: 0 };
  private lot: number = together.first;
  private delayMs: number;
  private away = false;
  /** Whether a leg has shown a frame since it was last asked about. */
  private going = false;
  private readonly counts = { made: 0, left: 0 };
  private outDisk = -1;
  private nextLeg = 0;

  constructor(private readonly options: FolderInletOptions) {
    const { source, rules, memory, moves, events, everyMs } = options;
    const passed = new Set<string>(moves ? Object.values(movedFolders) : []);
    this.delayMs = options.againMs ?? againMs.first;
    this.follower = new Follower({
      root: source,
      rules,
      events,
      everyMs,
      passes: (path) => passed.has(path),
      remembered: (seen) => memory.remembers(seen),
    });
  }

  /** Answers how many clips were made, how many left, and how many things still wait. */
  async follow(): Promise<{ made: number; left: number; waiting: number }> {
    const { signal, once, out } = this.options;
    this.outDisk = (await stat(out)).dev;
    let waiting: StillWaiting[] = [];
    try {
      while (!signal.aborted) {
        const look = await this.look();
        if (look) {
          waiting = look.waiting;
          this.tellUnseen(look.unseen);
          this.tellWaiting(waiting);
          for (const ready of look.ready) this.accept(ready);
          if (once && look.ready.length === 0 && this.isIdle() && !waiting.some((one) => this.mayCome(one))) break;
        }
        await (look ? this.follower.rest(signal) : this.sleep(awayMs));
      }
    } finally {
      for (const timer of this.timers) clearTimeout(timer);
      this.follower.close();
      // What is under way ends; what it would lead to is not begun any more.
      while (this.idle.reading || this.idle.lanes > 0) await this.sleep(20, false);
    }
    return { ...this.counts, waiting: waiting.length };
  }

  private async look(): Promise<Awaited<ReturnType<Follower['look']>> | null> {
    const { source, tell } = this.options;
    try {
      const look = await this.follower.look();
      if (this.away) tell({ event: 'back', what: `${source} is there again` });
      this.away = false;
      return look;
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      if (!this.away) tell({ event: 'away', what: `${source} cannot be looked into (${code ?? message})` });
      this.away = true;
      return null;
    }
  }

  private isIdle(): boolean {
    return !this.idle.reading && this.idle.lanes === 0 && this.toRead.length === 0 && this.jobs.length === 0;
  }

  /** Whether something that waits will be ready by itself, or is being written to. */
  private mayCome({ inMs, why, sameForMs }: StillWaiting): boolean {
    return inMs !== null || why.kind === 'open' || sameForMs < this.options.rules.quietMs;
  }

  private tellWaiting(waiting: readonly StillWaiting[]): void {
    const still = new Set<string>();
    for (const { thing, why, inMs } of waiting) {
      still.add(thing.key);
      const words = sayWaiting(why);
      if (this.said.get(thing.key) === `${why.kind} ${thing.paths.length}`) continue;
      this.said.set(thing.key, `${why.kind} ${thing.paths.length}`);
      const seconds = inMs === null ? null : Math.ceil(inMs / 1000);
      this.options.tell({ event: 'waits', thing: thing.key, files: thing.paths.length, why: words, seconds });
    }
    for (const key of [...this.said.keys()]) if (!still.has(key)) this.said.delete(key);
  }

  private tellUnseen(unseen: readonly { shownPath: string; why: string }[]): void {
    for (const { shownPath, why } of unseen) {
      if (this.unseen.has(shownPath)) continue;
      this.unseen.add(shownPath);
      this.left(shownPath, { what: `${shownPath}: ${why}`, remedy: 'Put the file or folder itself in its place' });
    }
  }

  private async leave(files: readonly { path: string; sizeBytes: number; modifiedAt: string }[]): Promise<void> {
    for (const { path } of files) this.follower.keepAnEyeOn(path);
    await this.options.memory.addLeft(files);
  }

  private left(path: string, { what, remedy }: Problem, rest: { again?: boolean; outputs?: OutputEnd[] } = {}): void {
    const { again = false, outputs = [] } = rest;
    this.counts.left += 1;
    this.options.tell({ event: 'left', path, what, remedy, again, outputs });
  }

  private accept(ready: Ready): void {
    for (const file of ready.files) this.follower.settle(file);
    this.toRead.push(ready);
    void this.read();
  }

  /** Reads what was accepted, lot after lot, as far as the lanes can follow. */
  private async read(): Promise<void> {
    if (this.idle.reading) return;
    this.idle.reading = true;
    try {
      while (this.toRead.length > 0 && !this.options.signal.aborted) {
        if (this.jobs.length >= mostAhead) {
          await this.sleep(100);
          continue;
        }
        const first = this.lot === together.first;
        await this.readLot(this.toRead.splice(0, this.lot));
        // What is read further takes its time from what is made: the first leg gets going before.
        if (first && this.idle.lanes > 0 && this.toRead.length > 0) await this.untilGoing();
        this.lot = Math.min(together.most, this.lot * 2);
      }
      this.lot = together.first;
    } finally {
      this.idle.reading = false;
      this.follower.poke();
    }
  }

  /** Waits until a leg shows its first frame, but not for long. */
  private async untilGoing(): Promise<void> {
    const end = performance.now() + goingMs;
    this.going = false;
    while (!this.going && performance.now() < end && this.idle.lanes > 0 && !this.options.signal.aborted)
      await this.sleep(20);
  }

  private async readLot(lot: readonly Ready[]): Promise<void> {
    const { source, memory, tell, plan } = this.options;
    for (const { thing, by, files } of lot)
      tell({
        event: 'taken',
        thing: thing.key,
        files: files.length,
        bytes: files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
        by,
      });
    const taken = await takeUp(lot, {
      root: source,
      known: memory,
      saysWhole: (path) => this.follower.saysWhole(path),
    }).catch((error: unknown) => error as Error);
    if (taken instanceof Error) {
      // Nothing was found out of any: they are looked at again.
      for (const { files } of lot) this.later(files.map(({ path }) => path));
      return;
    }
    const clips = taken.flatMap((one) => one.clips);
    const plans = plan(clips.map(({ clip }) => clip));
    for (const one of taken) await this.sortOut(one, new Map(clips.map((clip, index) => [clip, plans[index]])));
    this.work();
  }

  /** Files what was found in a thing, and queues what is to be made. */
  private async sortOut(
    { ready, clips, known, left, beside }: TakenUp,
    plans: ReadonlyMap<ArrivedClip, Result<LegPlan> | undefined>,
  ): Promise<void> {
    const { memory, tell } = this.options;
    const inHand: InHand = { ready, toCome: clips.length, ends: [] };
    for (const { path, as, result, file } of known) {
      tell({ event: 'known', path, as: as.path, result });
      await memory.addTaken(file);
      inHand.ends.push(result ? 'left' : 'proved');
    }
    for (const { seen, problem, passing } of left) {
      if (problem.kind !== 'original gone') this.left(seen.path, problem, { again: passing });
      if (problem.kind === 'original gone') this.follower.unsettle([seen.path]);
      else if (passing) this.later([seen.path]);
      else await this.leave([seen]);
      inHand.ends.push(passing ? 'again' : 'left');
    }
    await memory.addLeft(beside);
    for (const clip of clips) {
      const plan = plans.get(clip);
      const problem = stoppedBy(clip.findings) ?? (plan?.ok ? await this.clashOf(plan.value) : (plan?.problem ?? null));
      if (plan?.ok && !problem) this.jobs.push({ inHand, clip, plan: plan.value });
      else if (problem) {
        await this.leave(clip.files);
        this.left(clip.clip.path, problem);
        this.partEnds(inHand, 'left');
      }
    }
    if (clips.length === 0) await this.concluded(inHand);
  }

  /** Why a path that a clip would get is another's; null where it is nobody's, or the other is gone. */
  private async clashOf(plan: LegPlan): Promise<Problem | null> {
    for (const { path, place } of plan.outputs) {
      const other = this.options.originalOf(path, place);
      if (other === null || other === plan.original.path) continue;
      const known = this.options.memory.taken.at(other);
      if (!known || !(await this.isThere(other))) continue;
      const said = fail(
        `${path} is already the name of what was made of ${other}`,
        'Put what tells them apart into the path pattern, or rename one',
      );
      return said.ok ? null : said.problem;
    }
    return null;
  }

  private isThere(path: string): Promise<boolean> {
    return holding(async (held) => {
      await held.file(this.options.source, path);
      return true;
    }).catch(() => false);
  }

  /** Fills the lanes that stand empty. */
  private work(): void {
    const { lanes, signal } = this.options;
    while (this.idle.lanes < lanes && this.jobs.length > 0 && !signal.aborted) {
      this.idle.lanes += 1;
      void this.lane().finally(() => {
        this.idle.lanes -= 1;
        if (this.jobs.length > 0) this.work();
        this.follower.poke();
      });
    }
  }

  private async lane(): Promise<void> {
    const { signal } = this.options;
    for (let job = this.jobs.shift(); job !== undefined && !signal.aborted; job = this.jobs.shift()) {
      await this.untilOutIsThere();
      if (!signal.aborted) await this.make(job);
    }
  }

  /** Waits for the disk of outputs: where it was mounted, nothing must be written while it is not. */
  private async untilOutIsThere(): Promise<void> {
    const { out, tell, signal } = this.options;
    const isBack = async (): Promise<boolean> => (await stat(out).catch(() => null))?.dev === this.outDisk;
    if (await isBack()) return;
    tell({ event: 'away', what: `${out} is not there` });
    while (!signal.aborted && !(await isBack())) await this.sleep(awayMs);
    if (!signal.aborted) tell({ event: 'back', what: `${out} is there again` });
  }

  private async make(job: Job): Promise<void> {
    const { options } = this;
    const { plan, clip, inHand } = job;
    options.tell({ event: 'begun', original: plan.original.path, said: sayPlan(plan) });
    this.nextLeg += 1;
    const result = await runLeg(plan, {
      ...options.leg,
      sourceRoot: options.source,
      outRoot: options.out,
      owner: `${options.owner}.${this.nextLeg}`,
      signal: options.signal,
      onProgress: (progress) => {
        this.going ||= progress.framesDone > 0;
        options.leg.onProgress?.(progress);
      },
    });
    const outputs = result.outputs.map(endOf);
    if (result.state === 'proved' || result.state === 'needs eyes') {
      this.delayMs = options.againMs ?? againMs.first;
      await this.remember(clip, plan, result);
      this.counts.made += 1;
      options.tell({ event: 'made', original: plan.original.path, state: result.state, outputs });
      this.partEnds(inHand, result.state === 'proved' ? 'proved' : 'looked at');
    } else if (result.state !== 'stopped') await this.failed(job, result.problem, outputs);
    if (inHand.toCome === 0) await this.concluded(inHand);
  }

  private async failed({ plan, clip, inHand }: Job, found: Problem | null, outputs: OutputEnd[]): Promise<void> {
    const problem = found ?? { what: `${plan.original.path} could not be made`, remedy: 'Look at it' };
    const paths = clip.files.map(({ path }) => path);
    const { kind } = problem;
    if (kind === 'original gone' || kind === 'original changed') {
      // It arrives anew, once it is there again and quiet.
      this.follower.unsettle(paths);
      this.left(plan.original.path, problem, { again: true, outputs });
      this.partEnds(inHand, 'again');
    } else if (kind === 'disk full' || kind === 'stalled') {
      this.later(paths);
      this.left(plan.original.path, problem, { again: !this.options.once, outputs });
      this.partEnds(inHand, 'again');
    } else {
      await this.leave(clip.files);
      this.left(plan.original.path, problem, { outputs });
      this.partEnds(inHand, 'left');
    }
  }

  /** Remembers a clip's files by their contents, and what was made of them, so that neither is ever taken for new. */
  private async remember(
    { files }: ArrivedClip,
    plan: LegPlan,
    { outputs, originalXxh3 }: { outputs: readonly OutputResult[]; originalXxh3: string | null },
  ): Promise<void> {
    const { memory, out, leg } = this.options;
    for (const [index, { path, sizeBytes, xxh3 }] of outputs.entries()) {
      const output = plan.outputs[index];
      if (!output) continue;
      // What is a folder of files is not taken up as one file ever.
      const sampled = await holding(async (held) =>
        hashSamples(await outputIn(held, output, rootOf({ outRoot: out, elsewhere: leg.elsewhere }, output), path)),
      ).catch(() => null);
      if (sampled !== null) await memory.addResult({ path, sizeBytes, modifiedAt: '', sampled, whole: xxh3 });
    }
    for (const file of files)
      await memory.addTaken({ ...file, whole: files.length === 1 ? (originalXxh3 ?? file.whole) : file.whole });
  }

  private partEnds(inHand: InHand, end: InHand['ends'][number]): void {
    inHand.toCome -= 1;
    inHand.ends.push(end);
  }

  /** Has files looked at again after a while that grows. With `once`, they stay left. */
  private later(paths: readonly string[]): void {
    if (this.options.once) return;
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      this.follower.unsettle(paths);
    }, this.delayMs);
    this.timers.add(timer);
    this.delayMs = Math.min(againMs.most, this.delayMs * 2);
  }

  /** Moves what was dealt with whole, where that is wanted: nothing before every output of it is proved. */
  private async concluded({ ready: { thing, files }, ends, toCome }: InHand): Promise<void> {
    if (!this.options.moves || toCome > 0 || ends.length === 0) return;
    if (ends.some((end) => end === 'again' || end === 'looked at')) return;
    const into = ends.includes('left') ? movedFolders.left : movedFolders.done;
    for (const path of this.namesToMove(thing, files)) {
      try {
        const to = await moveInto(this.options.source, into, path);
        this.options.tell({ event: 'moved', from: path, to });
        await this.moved(files, path, to);
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
        const problem = diskProblem(error, path);
        this.left(path, { what: `${path} could not be moved: ${problem.what}`, remedy: problem.remedy });
      }
    }
  }

  /** What is moved of a thing: a structure's folder whole, but not while something of it has only just arrived. */
  private namesToMove({ key, kind, paths }: Thing, files: readonly Seen[]): string[] {
    if (kind === 'files') return files.map(({ path }) => path);
    const inside = (path: string): boolean => key === '' || path.startsWith(`${key}/`);
    const others = this.toRead.some((one) => one.thing.kind === 'structure' && one.thing.key === key);
    if (others || this.follower.waitingPaths.some(inside)) return [];
    return key === '' ? [...new Set(paths.map((path) => path.split('/')[0] ?? path))] : [key];
  }

  /** Remembers what was moved where it lies now. */
  private async moved(files: readonly Seen[], from: string, to: string): Promise<void> {
    const { memory } = this.options;
    for (const { path } of files) {
      if (path !== from && !path.startsWith(`${from}/`)) continue;
      const known = memory.taken.at(path);
      if (known) await memory.addTaken({ ...known, path: `${to}${path.slice(from.length)}` });
    }
  }

  private sleep(ms: number, ends = true): Promise<void> {
    const { signal } = this.options;
    if (ends && signal.aborted) return Promise.resolve();
    return new Promise((resolve) => {
      const end = (): void => {
        clearTimeout(timer);
        signal.removeEventListener('abort', end);
        resolve();
      };
      const timer = setTimeout(end, ms);
      if (ends) signal.addEventListener('abort', end, { once: true });
    });
  }
}
