import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import { isSidecar } from '@relay/core/clip/formats';
import { folderOf } from '@relay/core/clip/roll';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf } from '@relay/core/findings/findings';
import type { KnownFile } from '@relay/core/inlet/content';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { pathOf, type Root } from '../disk/held.ts';
import { walk, type FoundFile } from '../disk/walk.ts';
import { findingsAmong, readFolder, type ReadClip } from '../read/readFolder.ts';
import { acquaint, type Acquainted, type Acquaintances } from './acquaint.ts';
import type { Ready } from './follower.ts';
import type { Seen } from './listing.ts';

/** A clip of what was taken up, with its files as they were seen. */
export interface ArrivedClip {
  clip: ClipDescription;
  read: ReadClip;
  files: KnownFile[];
  findings: Finding[];
}

/** What was found in something that was taken up. */
export interface TakenUp {
  ready: Ready;
  clips: ArrivedClip[];
  /** Files that were taken up before, are being dealt with, or are results; and as what they are known. */
  known: Acquainted[];
  /** What nothing can be made of, and why. `passing`: the reason may go away by itself, and says nothing of the file. */
  left: { seen: Seen; problem: Problem; passing: boolean }[];
  /** What lies beside clips, and of which nothing is to be made. */
  beside: Seen[];
}

export interface TakeUpOptions {
  root: Root;
  known: Acquaintances;
}

/**
 * Looks into what may be taken up: which of its files were taken up before, what clips the others are, and what is no
 * clip. What is new is in hand at once, so that its like beside it is known by it. Clips are read together with every
 * sidecar that lies around them.
 */
export async function takeUp(ready: readonly Ready[], options: TakeUpOptions): Promise<TakenUp[]> {
  const taken = ready.map((one): TakenUp => ({ ready: one, clips: [], known: [], left: [], beside: [] }));
  const acquainted = new Map<string, Acquainted>();
  const owners = new Map<string, TakenUp>();
  for (const one of taken)
    for (const seen of one.ready.files) {
      owners.set(seen.path, one);
      if (isSidecar(seen.path)) one.beside.push(seen);
      else await meet(one, seen, options, acquainted);
    }
  if (acquainted.size === 0) return taken;
  await readNew(taken, { acquainted, owners }, options);
  return taken;
}

/** One after the other, so that of two that are alike the second is known by the first. */
async function meet(
  one: TakenUp,
  seen: Seen,
  { root, known }: TakeUpOptions,
  acquainted: Map<string, Acquainted>,
): Promise<void> {
  const met = await acquaint(root, seen, known).catch((error: unknown) => error as Error);
  if (met instanceof Error) one.left.push(unreadable(seen, met));
  else if (met.as) one.known.push(met);
  else {
    known.inHand.add(met.file);
    acquainted.set(seen.path, met);
  }
}

function unreadable(seen: Seen, error: NodeJS.ErrnoException): TakenUp['left'][number] {
  const problem: Problem = {
    what: `${seen.path} cannot be read (${error.code ?? error.message})`,
    remedy: 'Give Brisk Relay the right to read it; it is then taken up by itself',
  };
  return { seen, passing: true, problem: error.code === 'ENOENT' ? { ...problem, kind: 'original gone' } : problem };
}

/**
 * The files of things that are to be read: those that `isNew` says are, and every sidecar around them, those among it
 * that were dealt with before: of a structure all below its folder, else what lies in the folders of its clips.
 */
export async function filesToRead(
  lot: readonly Ready[],
  root: Root,
  isNew: (path: string) => boolean,
): Promise<FoundFile[]> {
  const [whole, flat, own] = [new Set<string>(), new Set<string>(), new Set<string>()];
  for (const { thing, files } of lot) {
    const fresh = files.map(({ path }) => path).filter(isNew);
    if (fresh.length === 0) continue;
    if (thing.kind === 'structure') whole.add(thing.key);
    else for (const path of fresh) flat.add(folderOf(path));
    for (const { path } of files) if (isNew(path) || isSidecar(path)) own.add(path);
  }
  const around = await Promise.all([
    ...[...whole].map((folder) => sidecarsIn(root, folder, true)),
    ...[...flat].map((folder) => sidecarsIn(root, folder, false)),
  ]);
  return [...new Set([...own, ...around.flat()])]
    .sort()
    .map((path) => ({ root, shownPath: path, path: under(pathOf(root), path) }));
}

/** Paths of the sidecars in a folder of an inlet, and below it where that is asked. */
async function sidecarsIn(root: Root, folder: string, below: boolean): Promise<string[]> {
  const place = typeof root === 'string' ? { root, folder } : { ...root, folder: under(root.folder, folder) };
  const found: string[] = [];
  const skips = (name: string): boolean => name.startsWith('.');
  await walk(place, { skips, depth: below ? undefined : 0, onUnseen: () => undefined }, ({ path, kind }) => {
    if (kind === 'file' && isSidecar(path)) found.push(under(folder, path));
  }).catch(() => undefined);
  return found;
}

async function readNew(
  taken: readonly TakenUp[],
  { acquainted, owners }: { acquainted: ReadonlyMap<string, Acquainted>; owners: ReadonlyMap<string, TakenUp> },
  options: TakeUpOptions,
): Promise<void> {
  const files = await filesToRead(
    taken.map(({ ready }) => ready),
    options.root,
    (path) => acquainted.has(path),
  );
  const { clips, refusals } = await readFolder(files);
  const findings = findingsAmong(
    clips,
    clips.map(() => null),
  );
  clips.forEach((read, index) => {
    const { clip, identity } = read;
    const paths = clip.chapters.length > 0 ? clip.chapters.map(({ path }) => path) : [clip.path];
    owners.get(clip.path)?.clips.push({
      clip: { ...clip, reel: identity.reel },
      read,
      files: paths.flatMap((path) => acquainted.get(path)?.file ?? []),
      findings: findings[index] ?? [],
    });
  });
  for (const refusal of refusals) sortRefusal(refusal, owners);
}

function sortRefusal({ path, problem }: Refusal, owners: ReadonlyMap<string, TakenUp>): void {
  const owner = owners.get(path);
  const seen = owner?.ready.files.find((file) => file.path === path);
  if (!owner || !seen || problem.kind === 'sidecar' || problem.kind === 'chapter') return;
  const { what, remedy, kind } = problem;
  owner.left.push({ seen, problem: { what, remedy }, passing: kind === 'unreadable' });
}

/** Why findings keep a clip from being made; null where nothing does. */
export function stoppedBy(findings: readonly Finding[]): Problem | null {
  const { runs, why } = standingOf(findings, []);
  if (runs) return null;
  const stop = findings.find(({ level }) => level === 'stop');
  return { what: why ?? '', remedy: stop?.remedy ?? 'Look at it' };
}
