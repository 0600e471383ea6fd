import type { WatchEvent } from '@relay/contract/watch';
import type { ClipDescription } from '@relay/core/clip/description';
import { KnownFiles } from '@relay/core/inlet/content';
import { isMovedFolder } from '@relay/core/inlet/ending';
import { sayWaiting, type ArrivalRules } from '@relay/core/inlet/ready';
import type { ReceiptForm, ReceiptPart } from '@relay/core/inlet/receipt';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import type { Problem, Result } from '@relay/core/result';
import type { Acquainted } from './acquaint.ts';
import { Follower, type Look, type Ready, type StillWaiting } from './follower.ts';
import { Making, type JobEnd, type MakingOptions } from './making.ts';
import { putAway } from './moving.ts';
import { pausing } from './pausing.ts';
import { partOf } from './receipts.ts';
import { stoppedBy, takeUp, type ArrivedClip, type TakenUp } from './takeUp.ts';

export interface AloneOptions extends MakingOptions {
  rules: ArrivalRules;
  /** What is to become of clips that were taken up together, in their order. */
  plan: (clips: readonly ClipDescription[]) => Result<LegPlan>[];
  /** Whether originals are moved when they are dealt with. */
  moves: boolean;
  /** What is laid beside originals when they are dealt with. */
  receipts: readonly ReceiptForm[];
  /** Ends when all that is there was dealt with. */
  once: boolean;
  /** As `FollowOptions` has them. */
  events?: boolean;
  everyMs?: number;
  /** Milliseconds until what may go better by itself is first tried again. */
  againMs?: number;
}

/** Something that was taken up, until all of it is dealt with. */
interface InHand {
  ready: Ready;
  /** Clips of it that are still to be made, or under way. */
  toCome: number;
  parts: ReceiptPart[];
}

/** Clips that are read ahead of what is made. */
const mostAhead = 64;
/** Things that are read together: few at first, so that the first leg begins at once; then more. */
const together = { first: 2, most: 32 } as const;
/** Until what may go better by itself is tried again: at first, and at most. */
const againMs = { first: 30_000, most: 900_000 } as const;
/** For how long the first leg of a batch is waited for before more is read. */
const goingMs = 2_000;
/** How often an inlet that is away is looked for. */
const awayMs = 2_000;

/** An inlet that stands alone: follows a place and makes what arrives there, until it is told to stop. No database. */
export class AloneInlet {
  private readonly follower: Follower;
  private readonly making: Making;
  private readonly toRead: Ready[] = [];
  /** What was told of waiting things, links and the like. */
  private readonly said = new Map<string, string>();
  private readonly unseen = new Set<string>();
  private readonly timers = new Set<NodeJS.Timeout>();
  /** Contents that are being dealt with, and copies of them that arrived meanwhile. */
  private readonly inHand = new KnownFiles();
  private readonly copies = new Map<string, Acquainted[]>();
  /** How many things are in hand of each structure. */
  private readonly structures = new Map<string, number>();
  private reading = false;
  private lot: number = together.first;
  private delayMs: number;
  private away = false;
  private readonly counts = { made: 0, left: 0 };

  constructor(private readonly options: AloneOptions) {
    const { source, rules, memory, moves, events, everyMs } = options;
    this.delayMs = options.againMs ?? againMs.first;
    this.follower = new Follower({
      root: source,
      rules,
      events,
      everyMs,
      passes: (path) => moves && isMovedFolder(path),
      remembered: (seen) => memory.remembers(seen),
    });
    this.making = new Making(options, () => this.follower.poke());
  }

  /** Answers how many clips were made, how many left, and how many things still wait. */
  async follow(): Promise<{ made: number; left: number; waiting: number }> {
    const { signal, once } = this.options;
    await this.making.begin();
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
        await (look ? this.follower.rest(signal) : pausing(awayMs, signal));
      }
    } finally {
      for (const timer of this.timers) clearTimeout(timer);
      this.follower.close();
      // What is under way ends; what it would lead to is not begun any more.
      while (this.reading || this.making.underWay > 0) await new Promise((resolve) => setTimeout(resolve, 20));
    }
    return { ...this.counts, waiting: waiting.length };
  }

  private async look(): Promise<Look | null> {
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
    return !this.reading && this.making.underWay === 0 && this.making.waiting === 0 && this.toRead.length === 0;
  }

  /** Whether something that waits will be ready by itself, or is being written to. */
  private mayCome({ inMs, why, sameForMs }: StillWaiting): boolean {
    return inMs !== null || why.kind === 'open' || sameForMs < this.options.rules.quietMs;
  }

  private tellWaiting(waiting: readonly StillWaiting[]): void {
    const still = new Set<string>();
    for (const { thing, why, inMs } of waiting) {
      still.add(thing.key);
      const kind = `${why.kind} ${thing.paths.length}`;
      if (this.said.get(thing.key) === kind) continue;
      this.said.set(thing.key, kind);
      const seconds = inMs === null ? null : Math.ceil(inMs / 1000);
      this.options.tell({ event: 'waits', thing: thing.key, files: thing.paths.length, why: sayWaiting(why), seconds });
    }
    for (const key of [...this.said.keys()]) if (!still.has(key)) this.said.delete(key);
  }

  private tellUnseen(unseen: Look['unseen']): void {
    for (const { shownPath, why } of unseen) {
      if (this.unseen.has(shownPath)) continue;
      this.unseen.add(shownPath);
      this.tellLeft(shownPath, { what: `${shownPath}: ${why}`, remedy: 'Put the file or folder itself in its place' });
    }
  }

  private tellLeft(path: string, { what, remedy }: Problem, rest: Partial<Pick<Left, 'again' | 'outputs'>> = {}): void {
    const { again = false, outputs = [] } = rest;
    this.counts.left += 1;
    this.options.tell({ event: 'left', path, what, remedy, again: again && !this.options.once, outputs });
  }

  private accept(ready: Ready): void {
    for (const file of ready.files) this.follower.settle(file);
    this.structures.set(ready.thing.key, (this.structures.get(ready.thing.key) ?? 0) + 1);
    this.toRead.push(ready);
    if (!this.reading) void this.read();
  }

  /** Reads what was accepted, lot after lot, as far as the lanes can follow. */
  private async read(): Promise<void> {
    const { signal } = this.options;
    this.reading = true;
    try {
      while (this.toRead.length > 0 && !signal.aborted) {
        if (this.making.waiting >= mostAhead) {
          await pausing(100, signal);
          continue;
        }
        const [first, shown] = [this.lot === together.first, this.making.legsShown];
        await this.readLot(this.toRead.splice(0, this.lot));
        // What is read further takes its time from what is made: the first leg gets going before.
        if (first && this.toRead.length > 0) await this.untilGoing(shown);
        this.lot = Math.min(together.most, this.lot * 2);
      }
      this.lot = together.first;
    } finally {
      this.reading = false;
      this.follower.poke();
    }
  }

  /** Waits until one leg more shows its first frame, but not for long. */
  private async untilGoing(shown: number): Promise<void> {
    const { making } = this;
    const end = performance.now() + goingMs;
    while (making.legsShown === shown && making.underWay > 0 && performance.now() < end && !this.options.signal.aborted)
      await pausing(20, this.options.signal);
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
    const known = { taken: memory.taken, results: memory.results, inHand: this.inHand };
    const taken = await takeUp(lot, { root: source, known }).catch((error: unknown) => error as Error);
    if (taken instanceof Error) {
      // Nothing was found out of any: they are looked at again.
      for (const ready of lot) {
        this.later(ready.files.map(({ path }) => path));
        this.letGo(ready);
      }
      return;
    }
    const clips = taken.flatMap((one) => one.clips);
    const plans = plan(clips.map(({ clip }) => clip));
    for (const one of taken) await this.sortOut(one, new Map(clips.map((clip, index) => [clip, plans[index]])));
  }

  /** Files what was found in a thing, and queues what is to be made. */
  private async sortOut(
    { ready, clips, known, left, beside }: TakenUp,
    plans: ReadonlyMap<ArrivedClip, Result<LegPlan> | undefined>,
  ): Promise<void> {
    const { memory } = this.options;
    // One more, until all of it is sorted out.
    const inHand: InHand = { ready, toCome: clips.length + 1, parts: [] };
    for (const met of known) inHand.parts.push(await this.meetAgain(met));
    for (const { seen, problem, passing } of left) {
      this.forget([seen.path]);
      if (problem.kind === 'original gone') this.follower.unsettle([seen.path]);
      else {
        this.tellLeft(seen.path, problem, { again: passing });
        if (passing) this.later([seen.path]);
        else await this.leave([seen]);
      }
      inHand.parts.push(partOf(seen.path, passing ? 'again' : 'left', { problem }));
    }
    await memory.addLeft(beside);
    for (const clip of clips) {
      const plan = plans.get(clip);
      const problem =
        stoppedBy(clip.findings) ?? (plan?.ok ? await this.making.clashOf(plan.value) : (plan?.problem ?? null));
      if (plan?.ok && !problem)
        this.making.add({ clip, plan: plan.value, onEnd: (end) => this.clipEnds(inHand, clip, end) });
      else await this.clipEnds(inHand, clip, { kind: 'left', problem: problem ?? unplanned(clip), outputs: [] });
    }
    await this.partEnds(inHand);
  }

  /** A file whose content is known: told, and remembered once that is made which it is a copy of. */
  private async meetAgain(met: Acquainted): Promise<ReceiptPart> {
    const { file, as, among } = met;
    const other = as?.path ?? '';
    this.options.tell({ event: 'known', path: file.path, as: other, result: among === 'results' });
    if (among === 'in hand') this.copies.set(other, [...(this.copies.get(other) ?? []), met]);
    else await this.options.memory.addTaken(file);
    return partOf(file.path, among === 'results' ? 'left' : 'proved', { knownAs: other });
  }

  /** What becomes of a clip's files, and of their copies, once it is made, left, or to be tried again. */
  private async clipEnds(inHand: InHand, { clip, files }: ArrivedClip, end: JobEnd): Promise<void> {
    const { memory, tell } = this.options;
    const paths = files.map(({ path }) => path);
    const copies = paths.flatMap((path) => this.copies.get(path) ?? []);
    this.forget(paths);
    switch (end.kind) {
      case 'stopped':
        return;
      case 'proved':
      case 'needs eyes':
        this.delayMs = this.options.againMs ?? againMs.first;
        this.counts.made += 1;
        tell({ event: 'made', original: clip.path, state: end.kind, outputs: end.outputs });
        for (const { file } of copies) await memory.addTaken(file);
        break;
      case 'left':
        this.tellLeft(clip.path, end.problem, { outputs: end.outputs });
        await this.leave([...files, ...copies.map(({ file }) => file)]);
        break;
      case 'again':
        this.tellLeft(clip.path, end.problem, { again: true, outputs: end.outputs });
        if (end.when === 'later') this.later(paths);
        else this.follower.unsettle(paths);
        // One of them may be all that is left of it.
        this.follower.unsettle(copies.map(({ file }) => file.path));
    }
    await this.partEnds(inHand, partOf(clip.path, end.kind, end));
  }

  /** These contents are in hand no more. */
  private forget(paths: readonly string[]): void {
    for (const path of paths) {
      this.inHand.forget(path);
      this.copies.delete(path);
    }
  }

  /** Remembers files as left: they are tried again when they change. */
  private async leave(files: readonly { path: string; sizeBytes: number; modifiedAt: string }[]): Promise<void> {
    for (const { path } of files) this.follower.keepAnEyeOn(path);
    await this.options.memory.addLeft(files);
  }

  /** One part of a thing has ended; with the last of them it is moved, and told of beside, where that is wanted. */
  private async partEnds(inHand: InHand, part?: ReceiptPart): Promise<void> {
    inHand.toCome -= 1;
    if (part) inHand.parts.push(part);
    if (inHand.toCome > 0) return;
    const { ready, parts } = inHand;
    const { follower } = this;
    const onProblem = (path: string, problem: Problem): void => this.tellLeft(path, problem);
    await putAway({ ready, parts, others: this.letGo(ready) }, { ...this.options, follower, onProblem });
  }

  /** A thing is in hand no more; how many others of its structure still are. */
  private letGo({ thing: { key } }: Ready): number {
    const others = (this.structures.get(key) ?? 1) - 1;
    if (others > 0) this.structures.set(key, others);
    else this.structures.delete(key);
    return others;
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
}

type Left = Extract<WatchEvent, { event: 'left' }>;

function unplanned({ clip: { path } }: ArrivedClip): Problem {
  return { what: `${path} could not be planned`, remedy: 'Look at it under Clips, or with relay read' };
}
