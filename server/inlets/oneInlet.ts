import { nothingNow, type InletNow, type InletWaiting } from '@relay/contract/inlets';
import { KnownFiles } from '@relay/core/inlet/content';
import { isMovedFolder } from '@relay/core/inlet/ending';
import { sayWaiting } from '@relay/core/inlet/ready';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { mountOf, mountsNow, tellsOfChanges } from '@relay/work/disk/mounts';
import { isThere, placeIn, type Store } from '@relay/work/disk/store';
import { Follower, type Look, type Ready } from '@relay/work/watch/follower';
import { isStillArriving, namesOf } from '@relay/work/watch/moving';
import { pausing } from '@relay/work/watch/pausing';
import type { DataSource } from 'typeorm';
import { inlet as inletRow, inletFile, type InletRow } from '../db/entities/inlets.ts';
import { tell } from '../live/notify.ts';
import { setting } from '../site/settings.ts';
import { beginMaking, notBefore, RecipeGone, recipeGone, type Beginning, type OpenRuns } from './begin.ts';
import type { Followed } from './conclude.ts';
import type { EndedThing } from './endedThings.ts';
import { keepThings } from './keepThings.ts';
import { findOut } from './takeUp.ts';

/** What a keeper works with. */
export interface KeeperTools extends Beginning {
  cacheFolder: string;
  /** The system's table of mounts. */
  mountTable: string;
  complain: (error: Error) => void;
}

/** Things that are looked into together: few at first, so that the first leg begins at once; then more. */
const together = { first: 2, most: 200 } as const;
/** Files of one lot, at most: a card of thousands is read whole all the same. */
const mostFiles = 400;
/** Waiting things that are told by name. */
const mostTold = 100;
/** How often, at most, the page is told what waits. */
export const tellMs = 1_000;
const awayMs = 2_000;
/** For how long the first legs of a batch are left alone before more is read. */
const goingMs = 1_500;
/** A batch takes what arrives so shortly after; what comes later is another run. */
const batchMs = 5_000;
/** Legs of one run, at most. */
const mostInRun = 5_000;
/** Until what cannot be read is looked at again, as it is. */
const againMs = 60_000;

/** A folder that is followed, and by what it is known in the database. */
interface FollowedPlace {
  key: string;
  store: Store;
  folder: string;
}

/** Follows one folder of an inlet: takes up what arrives, reads it, and begins its runs. */
export class FollowedFolder {
  private readonly stop = new AbortController();
  private readonly follower: Follower;
  private readonly toRead: Ready[] = [];
  private readonly timers = new Set<NodeJS.Timeout>();
  private reading: Promise<void> | null = null;
  /** What is being read. */
  private inHand: readonly Ready[] = [];
  private hasLooked = false;
  private lot: number = together.first;
  private open = { runs: new Map() as OpenRuns, clips: new Set<string>(), untilMs: 0 };
  /** Why nothing is begun, where that is not the place's doing. */
  private held: Problem | null = null;
  private following: Promise<void> = Promise.resolve();
  private readonly known: KnownFiles;
  /** What is told of it. */
  now: InletNow = nothingNow;

  private constructor(
    private readonly tools: KeeperTools,
    private readonly inlet: InletRow,
    private readonly place: FollowedPlace,
    { known, remembered, events }: { known: KnownFiles; remembered: ReadonlyMap<string, string>; events: boolean },
    private readonly onNow: () => void,
  ) {
    this.known = known;
    const { quietSeconds, partner } = inlet.definition;
    this.follower = new Follower({
      root: placeIn(place.store, place.folder),
      rules: { quietMs: quietSeconds * 1000, partner },
      passes: (path) => inlet.definition.after.originals === 'move' && isMovedFolder(path),
      events,
      remembered: ({ path, sizeBytes, modifiedAt }) => remembered.get(path) === `${sizeBytes} ${modifiedAt}`,
    });
  }

  static async begin(
    tools: KeeperTools,
    inlet: InletRow,
    place: { store: Store; folder: string },
    onNow: () => void,
  ): Promise<FollowedFolder> {
    const key = JSON.stringify([place.store.id, place.folder]);
    const rows = await tools.db.manager.find(inletFile, { where: { inletId: inlet.id, place: key } });
    const remembered = new Map(rows.map((row) => [row.path, `${row.sizeBytes} ${row.modifiedAt}`]));
    const known = new KnownFiles(
      rows.flatMap(({ path, sizeBytes, modifiedAt, sampled, whole }) =>
        sampled === null ? [] : [{ path, sizeBytes, modifiedAt, sampled, whole }],
      ),
    );
    const mount = mountOf(await mountsNow(tools.mountTable), place.store.path);
    // Where nothing is known of mounts, events are tried: what they do not tell is found by looking.
    const events = mount === undefined || tellsOfChanges(mount);
    const followed = new FollowedFolder(tools, inlet, { ...place, key }, { known, remembered, events }, onNow);
    followed.following = followed.follow();
    return followed;
  }

  /** What its things' end asks of it. */
  get followed(): Followed {
    const { place, inlet, follower, known } = this;
    return {
      at: { inlet: inlet.id, place: place.key, store: place.store, folder: place.folder },
      namesOf: (thing, paths) => namesOf(asItLies(thing, paths), paths, follower),
      isArriving: (thing, paths) => {
        const waiting = [...follower.waitingPaths, ...[...this.toRead, ...this.inHand].flatMap(pathsOf)];
        return !this.hasLooked || isStillArriving(asItLies(thing, paths), waiting);
      },
      moved: (paths, { from, to }) => {
        for (const path of paths) {
          const [old, now] = [under(from, path), under(to, path)];
          const file = known.at(old);
          if (!file) continue;
          known.forget(old);
          known.add({ ...file, path: now });
        }
      },
    };
  }

  async end(): Promise<void> {
    this.stop.abort();
    for (const timer of this.timers) clearTimeout(timer);
    await this.following;
    await this.reading;
    this.follower.close();
  }

  private async follow(): Promise<void> {
    const { signal } = this.stop;
    while (!signal.aborted) {
      const look = await this.look();
      if (look) {
        for (const ready of look.ready) {
          for (const file of ready.files) this.follower.settle(file);
          this.toRead.push(ready);
        }
        this.hasLooked = true;
        if (look.ready.length > 0) this.begin();
        this.say(look);
      }
      await (look ? this.follower.rest(signal) : this.sleep(awayMs));
    }
  }

  private async look(): Promise<Look | null> {
    const { store } = this.place;
    try {
      if (!(await isThere(store))) throw new Error(`${store.name} is not there`);
      return await this.follower.look();
    } catch (error) {
      const { code, message } = error as NodeJS.ErrnoException;
      this.tellNow({
        ...nothingNow,
        problem: {
          what: code === 'ENOENT' ? `${this.place.folder} is not there on ${store.name}` : message,
          remedy: 'See that the store is mounted; the inlet goes on by itself',
        },
      });
      return null;
    }
  }

  private say({ waiting, unseen }: Look): void {
    const first = waiting.slice(0, mostTold).map(({ thing, why, inMs }): InletWaiting => ({
      thing: thing.key === '' ? (thing.paths[0] ?? '') : thing.key,
      files: thing.paths.length,
      why: sayWaiting(why),
      seconds: inMs === null ? null : Math.ceil(inMs / 1000),
    }));
    const read = this.toRead.reduce((sum, { files }) => sum + files.length, 0);
    const reading: InletWaiting[] =
      read > 0
        ? [{ thing: `${this.toRead.length} things`, files: read, why: 'whole, and about to be read', seconds: null }]
        : [];
    this.tellNow({
      problem: this.held,
      waiting: waiting.length + this.toRead.length,
      first: [...reading, ...first],
      passed: unseen.slice(0, mostTold).map(({ shownPath: path, why }) => ({ path, why })),
    });
  }

  private tellNow(now: InletNow): void {
    if (JSON.stringify(now) === JSON.stringify(this.now)) return;
    this.now = now;
    this.onNow();
  }

  private begin(): void {
    this.reading ??= this.read().finally(() => {
      this.reading = null;
      this.follower.poke();
    });
  }

  private async read(): Promise<void> {
    while (this.toRead.length > 0 && !this.stop.signal.aborted) {
      const lot = this.nextLot();
      this.inHand = lot;
      const went = await this.readLot(lot).then(
        () => true,
        (error: Error) => this.couldNot(lot, error),
      );
      // What is read further takes its time from what is made: the first legs get going before.
      if (went && lot.length <= together.first && this.toRead.length > 0) await this.sleep(goingMs);
    }
    this.inHand = [];
    this.lot = together.first;
  }

  /** Nothing of a lot is remembered: it is looked at again in a while, as it is then. */
  private async couldNot(lot: readonly Ready[], error: Error): Promise<false> {
    if (error instanceof RecipeGone) this.held = recipeGone;
    else this.tools.complain(error);
    this.later(
      lot.flatMap(({ files }) => files.map(({ path }) => path)),
      awayMs * 5,
    );
    await this.sleep(awayMs);
    return false;
  }

  private nextLot(): Ready[] {
    const lot: Ready[] = [];
    let files = 0;
    while (lot.length < this.lot && this.toRead.length > 0 && (lot.length === 0 || files < mostFiles)) {
      const next = this.toRead.shift() as Ready;
      lot.push(next);
      files += next.files.length;
    }
    this.lot = Math.min(together.most, this.lot * 2);
    return lot;
  }

  private async readLot(lot: readonly Ready[]): Promise<void> {
    const { tools, inlet, place, known } = this;
    const { db, boss, cacheFolder } = tools;
    const found = await findOut(lot, {
      ...{ db, boss, cacheFolder, known, definition: inlet.definition },
      root: placeIn(place.store, place.folder),
      work: {
        productionId: inlet.productionId,
        storeId: place.store.id,
        folder: place.folder,
        rollId: null,
        rollName: null,
      },
    });
    // Paused meanwhile, nothing of it is begun: it is looked at again when it goes on.
    if (this.stop.signal.aborted) return;
    const at = notBefore(inlet.definition.begin, await setting(db, 'quiet'), new Date());
    const clips = found.flatMap((one) => one.clips);
    // A new version of what this batch has already is another batch's: each leg of a run has its own outputs.
    const { open } = this;
    if (performance.now() > open.untilMs || open.clips.size > mostInRun || clips.some((clip) => open.clips.has(clip)))
      this.open = { runs: new Map(), clips: new Set(), untilMs: 0 };
    await beginMaking(tools, { id: inlet.id, production: inlet.productionId, definition: inlet.definition }, clips, {
      open: this.open.runs,
      at,
      beside: (tx, begun) => keepThings(tx, inlet.id, place.key, found, begun),
    });
    this.held = null;
    for (const clip of clips) this.open.clips.add(clip);
    this.open.untilMs = performance.now() + batchMs;
    for (const file of found.flatMap((one) => [...one.taken, ...one.known.map((met) => met.file)])) known.add(file);
    this.later(
      found.flatMap((one) => one.passing.map(({ path }) => path)),
      againMs,
    );
    for (const one of found) for (const { path } of one.problems) this.follower.keepAnEyeOn(path);
    await this.tellChanged();
  }

  private async tellChanged(): Promise<void> {
    const { productionId: production } = this.inlet;
    await tell(this.tools.db, { kind: 'changed', what: 'clips', production });
    await tell(this.tools.db, { kind: 'changed', what: 'inlets', production });
  }

  private later(paths: readonly string[], ms: number): void {
    if (paths.length === 0 || this.stop.signal.aborted) return;
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      this.follower.unsettle(paths);
    }, ms);
    this.timers.add(timer);
  }

  private sleep(ms: number): Promise<void> {
    return pausing(ms, this.stop.signal);
  }
}

const pathsOf = ({ files }: Ready): string[] => files.map(({ path }) => path);

/** A thing as its folder knows it: a structure that is the inlet's folder itself has no name there. */
function asItLies(
  { key, kind }: Pick<EndedThing, 'key' | 'kind'>,
  paths: readonly string[],
): Pick<Ready['thing'], 'key' | 'kind'> {
  const isWhole = kind === 'structure' && !paths.every((path) => path.startsWith(`${key}/`));
  return { key: isWhole ? '' : key, kind: kind === 'structure' ? kind : 'files' };
}

/** Keeps what is told of an inlet: all its folders together. */
export async function keepNow(
  db: DataSource,
  { id, productionId }: InletRow,
  folders: readonly FollowedFolder[],
): Promise<void> {
  const now: InletNow = {
    problem: folders.map((one) => one.now.problem).find((problem) => problem !== null) ?? null,
    waiting: folders.reduce((sum, one) => sum + one.now.waiting, 0),
    first: folders.flatMap((one) => one.now.first).slice(0, mostTold),
    passed: folders.flatMap((one) => one.now.passed).slice(0, mostTold),
  };
  await db.manager.update(inletRow, { id }, { now, lookedAt: new Date() });
  await tell(db, { kind: 'changed', what: 'inlets', production: productionId });
}
