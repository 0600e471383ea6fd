import {
  isPartner,
  partnerPaths,
  readinessOf,
  type ArrivalRules,
  type Readiness,
  type Waiting,
} from '@relay/core/inlet/ready';
import { standsFor } from '@relay/core/inlet/temporaryNames';
import { thingsAmong, type Thing } from '@relay/core/inlet/things';
import { watched, type Watched } from '@relay/core/inlet/watched';
import { folderAndName, under } from '@relay/core/naming/under';
import { readHistory, statedEntries } from '../custody/history.ts';
import { realPathOf, type Root } from '../disk/held.ts';
import type { Unseen } from '../disk/walk.ts';
import { FolderEvents } from './events.ts';
import { Listing, type Seen } from './listing.ts';
import { openToBeWritten } from './openHere.ts';

/** Something that may be taken up now. */
export interface Ready {
  thing: Thing;
  by: 'quiet' | 'manifest' | 'partner';
  /** Its files. */
  files: Seen[];
}

/** Something that is not taken up yet, and why. */
export interface StillWaiting {
  thing: Thing;
  why: Waiting;
  /** Milliseconds until it is ready if nothing more happens; null where time alone does not help. */
  inMs: number | null;
  /** For how long nothing of it has changed. */
  sameForMs: number;
}

export interface Look {
  ready: Ready[];
  waiting: StillWaiting[];
  unseen: Unseen[];
}

export interface FollowOptions {
  root: Root;
  rules: ArrivalRules;
  /** Paths that are passed over, with all below them. */
  passes?: (path: string) => boolean;
  /** Whether a file was dealt with before this process began. */
  remembered?: (file: Seen) => boolean;
  /** False where the folder's disk tells nothing of changes, such as a share: it is looked at regularly. */
  events?: boolean;
  /** Milliseconds between two looks at everything while nothing waits. */
  everyMs?: number;
}

/** How often what waits is looked at, at most; and everything, and everything closely, in milliseconds. */
const pace = { restless: 500, patient: 30_000, idle: 60_000, close: 900_000, afterEvent: 150 } as const;

/** What has stood still for long is looked at the less often: after a tenth of the time that it did. */
const shareOfStanding = 10;

/** A look takes at most this share of the time while something waits. */
const shareOfLooking = 5;

/** For how long what a manifest states is kept before it is read again. */
const statedForMs = 5_000;

/**
 * Follows a folder: says what may be taken up, what waits and why, again and again. Who takes something up settles its
 * files (`settle`); what changes after that is told of again. What is there is found by looking; events of the system
 * only say where to look sooner. Times are of a clock that only goes forward.
 */
export class Follower {
  private readonly listing: Listing;
  private readonly events: FolderEvents | null;
  private files: ReadonlyMap<string, Watched> = new Map();
  private readonly dirty = new Set<string>();
  private allDueMs = 0;
  private closeDueMs = 0;
  private tookMs = 0;
  private nextReadyMs: number | null = null;
  private stoodMs = 0;
  private wake: (() => void) | null = null;
  private readonly stated = new Map<string, { atMs: number; entries: { path: string; sizeBytes: number | null }[] }>();

  constructor(private readonly options: FollowOptions) {
    this.events =
      options.events === false
        ? null
        : new FolderEvents(options.root, (folder) => {
            this.dirty.add(folder);
            this.wake?.();
          });
    this.listing = new Listing(options.root, {
      passes: options.passes ?? (() => false),
      remembered: options.remembered ?? (() => false),
      onFolder: (folder) => this.events?.add(folder),
    });
  }

  settle(file: Seen): void {
    this.listing.settle(file);
  }

  /** Looks at a file that was left whenever it looks at all, to see whether it changed. */
  keepAnEyeOn(path: string): void {
    this.listing.keepAnEyeOn(path);
  }

  /** Makes files be told of again, when they are next looked at: in a moment. */
  unsettle(paths: readonly string[]): void {
    for (const path of paths) {
      this.listing.unsettle(path);
      this.dirty.add(folderAndName(path).folder);
    }
    if (paths.length > 0) this.wake?.();
  }

  /**
   * Looks again: at everything if that is due, else where something waits or happened.
   * @throws the system's error where the folder cannot be opened: what waited is then forgotten, and waits anew
   */
  async look(): Promise<Look> {
    const from = performance.now();
    try {
      await this.list(from);
    } catch (error) {
      this.files = new Map();
      this.allDueMs = 0;
      this.listing.lost();
      this.events?.keep([]);
      throw error;
    }
    // What only says that others are whole says so by lying there, and is dealt with.
    for (const file of this.listing.waiting) if (isPartner(file.path, this.options.rules)) this.listing.settle(file);
    const seen = this.listing.waiting;
    this.files = watched(this.files, seen, from);
    const look = await this.sorted(seen, from);
    this.tookMs = performance.now() - from;
    return look;
  }

  private async list(nowMs: number): Promise<void> {
    const changed = [...this.dirty];
    this.dirty.clear();
    if (nowMs < this.allDueMs) {
      await this.listing.look('everything', [...changed, ...this.listing.restless]);
      return;
    }
    const close = nowMs >= this.closeDueMs;
    await this.listing.look(close ? 'everything' : 'names');
    // Those with news, closely: a look at names passes over what is settled.
    if (!close && changed.length > 0) await this.listing.look('everything', changed);
    this.events?.keep(this.listing.folders);
    const every = this.options.everyMs ?? pace.idle;
    this.allDueMs = nowMs + every;
    if (close) this.closeDueMs = nowMs + Math.max(every, pace.close);
  }

  private async sorted(seen: readonly Seen[], nowMs: number): Promise<Look> {
    const { rules } = this.options;
    const byPath = new Map(seen.map((file) => [file.path, file]));
    const { withHistory, withIndex } = this.listing;
    const rolls = new Set([...withHistory, ...withIndex].filter((folder) => folder !== ''));
    const temporary = new Map<string, string>();
    for (const path of byPath.keys()) {
      const stands = standsFor(path);
      if (stands !== null) temporary.set(stands, path);
    }
    const things = thingsAmong(
      [...this.files.values()].map(({ path, sizeBytes, sameSinceMs }) => ({
        path,
        sizeBytes,
        quiet: nowMs - sameSinceMs >= rules.quietMs,
      })),
      rolls,
    );
    const verdicts = new Map<Thing, Readiness>();
    const judge = async (thing: Thing, open: ReadonlySet<string>): Promise<Readiness> =>
      readinessOf(thing, rules, {
        files: this.files,
        sizeAt: (path) => this.listing.sizeAt(path),
        temporary: thing.paths.flatMap((path) => temporary.get(path) ?? []),
        stated: await this.statedOf(thing, nowMs),
        open,
        nowMs,
      });
    for (const thing of things) verdicts.set(thing, await judge(thing, new Set()));
    // Who has which file open is asked only when something would be taken up.
    const candidates = things.filter((thing) => verdicts.get(thing)?.ready);
    const open = await this.openAmong(candidates.flatMap(({ paths }) => paths));
    if (open.size > 0) for (const thing of candidates) verdicts.set(thing, await judge(thing, open));
    return this.told(verdicts, byPath, nowMs);
  }

  private told(verdicts: ReadonlyMap<Thing, Readiness>, byPath: ReadonlyMap<string, Seen>, nowMs: number): Look {
    const look: Look = { ready: [], waiting: [], unseen: this.listing.unseen };
    this.nextReadyMs = null;
    this.stoodMs = Infinity;
    for (const [thing, verdict] of verdicts) {
      if (verdict.ready) {
        look.ready.push({ thing, by: verdict.by, files: thing.paths.flatMap((path) => byPath.get(path) ?? []) });
        continue;
      }
      const { why, untilMs } = verdict;
      if (untilMs !== null) this.nextReadyMs = Math.min(this.nextReadyMs ?? Infinity, untilMs);
      const since = Math.max(...thing.paths.map((path) => this.files.get(path)?.sameSinceMs ?? nowMs));
      this.stoodMs = Math.min(this.stoodMs, nowMs - since);
      look.waiting.push({
        thing,
        why,
        inMs: untilMs === null ? null : Math.max(0, untilMs - nowMs),
        sameForMs: nowMs - since,
      });
    }
    return look;
  }

  private async statedOf(
    { kind, key }: Thing,
    nowMs: number,
  ): Promise<{ path: string; sizeBytes: number | null }[] | null> {
    if (kind !== 'structure' || !this.listing.withHistory.has(key)) return null;
    const kept = this.stated.get(key);
    if (kept && nowMs - kept.atMs < statedForMs) return kept.entries;
    const { root } = this.options;
    const place = typeof root === 'string' ? { root, folder: key } : { ...root, folder: under(root.folder, key) };
    const history = await readHistory(place).catch(() => null);
    const entries = (history ? statedEntries(history) : []).map(({ path, sizeBytes }) => ({
      path: key === '' ? path : `${key}/${path}`,
      sizeBytes,
    }));
    this.stated.set(key, { atMs: nowMs, entries });
    return entries;
  }

  private async openAmong(paths: readonly string[]): Promise<Set<string>> {
    if (paths.length === 0) return new Set();
    const real = await realPathOf(this.options.root);
    const relative = new Map(paths.map((path) => [`${real}/${path}`, path]));
    const open = await openToBeWritten(new Set(relative.keys()));
    return new Set([...open].flatMap((path) => relative.get(path) ?? []));
  }

  /** Waits until the next look is due. Ends early when something happens, or when it is told to stop. */
  async rest(signal: AbortSignal): Promise<void> {
    const now = performance.now();
    const restless = this.files.size > 0 && this.listing.restless.length > 0;
    const standing = Math.min(pace.patient, this.stoodMs / shareOfStanding);
    const lively = Math.max(pace.restless, this.tookMs * (shareOfLooking - 1), standing);
    const soonest = restless ? Math.min(lively, this.nextReadyMs === null ? lively : this.nextReadyMs - now) : Infinity;
    // A timer may fire a moment early, and nothing would be due yet.
    const waitMs = Math.max(20, Math.ceil(Math.min(soonest, this.allDueMs - now)) + 1);
    if (this.dirty.size === 0) await this.sleep(waitMs, signal);
    // Of many events that come together, one look tells.
    if (this.dirty.size > 0) await this.sleep(Math.max(pace.afterEvent, this.tookMs), signal, false);
  }

  private sleep(ms: number, signal: AbortSignal, wakes = true): Promise<void> {
    if (signal.aborted) return Promise.resolve();
    return new Promise((resolve) => {
      const end = (): void => {
        clearTimeout(timer);
        signal.removeEventListener('abort', end);
        if (wakes) this.wake = null;
        resolve();
      };
      const timer = setTimeout(end, ms);
      signal.addEventListener('abort', end, { once: true });
      if (wakes) this.wake = end;
    });
  }

  /** Files that lie beside some to say that they are whole. */
  partnersOf(paths: readonly string[]): string[] {
    return paths
      .flatMap((path) => partnerPaths(path, this.options.rules))
      .filter((path) => this.listing.sizeAt(path) !== null);
  }

  /** Paths of everything that waits. */
  get waitingPaths(): string[] {
    return [...this.files.keys()];
  }

  /** Ends a rest: what its caller waits for has changed. */
  poke(): void {
    this.wake?.();
  }

  close(): void {
    this.events?.close();
  }
}
