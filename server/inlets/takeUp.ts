import { isSidecar } from '@relay/core/clip/formats';
import { folderOf } from '@relay/core/clip/roll';
import { KnownFiles, type KnownFile } from '@relay/core/inlet/content';
import type { Refusal } from '@relay/core/clip/description';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { hashFile } from '@relay/work/disk/hash';
import { holding } from '@relay/work/disk/held';
import { Sidecars } from '@relay/work/read/sidecars';
import { acquaint } from '@relay/work/watch/acquaint';
import type { Ready } from '@relay/work/watch/follower';
import type { Seen } from '@relay/work/watch/listing';
import { filesToRead } from '@relay/work/watch/takeUp';
import type { DataSource } from 'typeorm';
import { joinFiles, keepFiles, keepSidecars } from '../arrivals/keepRead.ts';
import { refreshClips } from '../clips/refresh.ts';
import { sayBefore } from './before.ts';
import { attachLate, clipsIn } from './lateSidecars.ts';
import type { TakingUp } from './takingUp.ts';
import { queueLooks } from '../queue/boss.ts';

/** What was found in something that was taken up. */
export interface Found {
  ready: Ready;
  clips: string[];
  /** Its files that were taken up for their contents. */
  taken: KnownFile[];
  known: { file: KnownFile; as: string; result: boolean }[];
  problems: (Problem & { path: string })[];
  /** Files that may be read later, as they are: nothing of them is remembered. */
  passing: Seen[];
}

/** Looks into things: which of their files are known, and what clips the others are, kept in the production. */
export async function findOut(lot: readonly Ready[], at: TakingUp): Promise<Found[]> {
  const found = lot.map((ready): Found => ({ ready, clips: [], taken: [], known: [], problems: [], passing: [] }));
  const results = at.definition.takesResults ? new Map<number, Result[]>() : await resultsOfSizes(at.db, lot);
  const fresh = new Map<string, Found>();
  // One after the other: of two that are alike in one lot the second is known by the first.
  const inLot = new KnownFiles();
  for (const one of found)
    for (const seen of one.ready.files) {
      if (isSidecar(seen.path)) continue;
      const met = await meet(at, seen, results, inLot).catch((error: NodeJS.ErrnoException) => error);
      if (met instanceof Error) {
        one.passing.push(seen);
        if (met.code !== 'ENOENT') one.problems.push(unreadable(seen, met));
      } else if (met.as !== null) one.known.push({ file: met.file, as: met.as, result: met.result });
      else {
        inLot.add(met.file);
        one.taken.push(met.file);
        fresh.set(seen.path, one);
      }
    }
  if (fresh.size > 0) await readFresh(at, found, fresh);
  await attachLate(at, lot);
  return found;
}

function unreadable({ path }: Seen, { code, message }: NodeJS.ErrnoException): Found['problems'][number] {
  return {
    path,
    what: `${path} cannot be read (${code ?? message})`,
    remedy: 'Give Brisk Relay the right to read it; it is then taken up by itself',
  };
}

interface Result {
  path: string;
  xxh3: string;
}

/** What was made of the sizes of some files, whoever made it: what they may be. */
async function resultsOfSizes(db: DataSource, lot: readonly Ready[]): Promise<Map<number, Result[]>> {
  const sizes = [...new Set(lot.flatMap(({ files }) => files.map(({ sizeBytes }) => sizeBytes)))];
  const rows = await db.query<{ size: string; path: string; xxh3: string }[]>(
    'SELECT size_bytes AS size, path, xxh3 FROM output WHERE size_bytes = ANY($1::bigint[]) AND xxh3 IS NOT NULL',
    [sizes],
  );
  const found = new Map<number, Result[]>();
  for (const { size, path, xxh3 } of rows)
    found.set(Number(size), [...(found.get(Number(size)) ?? []), { path, xxh3 }]);
  return found;
}

async function meet(
  at: TakingUp,
  seen: Seen,
  results: ReadonlyMap<number, readonly Result[]>,
  inLot: KnownFiles,
): Promise<{ file: KnownFile; as: string | null; result: boolean }> {
  const { root, known } = at;
  const met = await acquaint(root, seen, { taken: known, inHand: inLot, results: new KnownFiles() });
  if (met.as) {
    // What was moved before anything was made of it is new where it lies now.
    const isNew = met.as.path !== seen.path && (await isLost(at, met.as.path));
    return { file: met.file, as: isNew ? null : met.as.path, result: false };
  }
  const maybe = results.get(seen.sizeBytes);
  if (!maybe) return { file: met.file, as: null, result: false };
  const whole = met.file.whole ?? (await holding(async (held) => hashFile(await held.file(root, seen.path))));
  const result = maybe.find(({ xxh3 }) => xxh3 === whole);
  return { file: { ...met.file, whole }, as: result?.path ?? null, result: result !== undefined };
}

/** Whether an original that was taken up lies at its place no more, and nothing was made of it. */
async function isLost({ db, root, work }: TakingUp, path: string): Promise<boolean> {
  const isThere = await holding(async (held) => held.file(root, path)).then(
    () => true,
    () => false,
  );
  if (isThere) return false;
  const [row] = await db.query<{ made: boolean }[]>(
    `SELECT EXISTS (
       SELECT 1
       FROM leg
       JOIN clip ON clip.id = leg.clip_id
       WHERE clip.production_id = $1 AND clip.store_id = $2 AND concat_ws('/', nullif(clip.root, ''), clip.path) = $3
         AND leg.state IN ('proved', 'needs eyes')
     ) AS made`,
    [work.productionId, work.storeId, under(work.folder, path)],
  );
  return row?.made === false;
}

/** Reads new files into the production, as a reading of their folder does. */
async function readFresh(at: TakingUp, found: readonly Found[], fresh: ReadonlyMap<string, Found>): Promise<void> {
  const { db, boss, root, work } = at;
  const seen = new Map(found.flatMap(({ ready }) => ready.files.map((file) => [file.path, file])));
  const files = await filesToRead(
    found.map(({ ready }) => ready),
    root,
    (path) => fresh.has(path),
  );
  const changedAt = new Map([...seen.values()].map(({ path, modifiedAt }) => [path, modifiedAt]));
  await keepFiles(db, at.cacheFolder, work, {
    quiet: files.filter(({ shownPath }) => fresh.has(shownPath)),
    files,
    changedAt,
  });
  const folders = [...new Set([...fresh.keys()].map(folderOf))];
  const before = (await clipsIn(at, folders)).filter(({ shownPath }) => !fresh.has(shownPath));
  const sidecars = new Sidecars([...files, ...before]);
  await joinFiles(db, work, sidecars, folders);
  await keepSidecars(db, work, sidecars, [...fresh.keys()]);
  const rows = await db.query<{ id: string; path: string; refusal: Refusal | null }[]>(
    `SELECT id, path, refusal
     FROM clip
     WHERE production_id = $1 AND store_id = $2 AND root = $3 AND path = ANY($4)`,
    [work.productionId, work.storeId, work.folder, [...fresh.keys()]],
  );
  for (const { id, path, refusal } of rows) {
    const one = fresh.get(path);
    if (refusal === null) one?.clips.push(id);
    else if (refusal.problem.kind === 'unreadable')
      one?.passing.push(...[seen.get(path)].flatMap((file) => file ?? []));
    if (refusal && refusal.problem.kind !== 'sidecar' && refusal.problem.kind !== 'chapter')
      one?.problems.push({ path, what: refusal.problem.what, remedy: refusal.problem.remedy });
  }
  const clips = rows.filter(({ refusal }) => refusal === null).map(({ id }) => id);
  await sayBefore(db, work.productionId, at.definition, clips);
  await refreshClips(db, work.productionId, clips);
  await queueLooks(boss, clips);
}
