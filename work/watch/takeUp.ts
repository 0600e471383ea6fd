import type { ClipDescription, Refusal } from '@relay/core/clip/description';
import { isSidecar } from '@relay/core/clip/formats';
import type { Finding } from '@relay/core/findings/finding';
import { standingOf } from '@relay/core/findings/findings';
import type { KnownFile } from '@relay/core/inlet/content';
import { under } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import { pathOf, type Root } from '../disk/held.ts';
import { filesBelow, type FoundFile } from '../disk/walk.ts';
import { inLanes } from '../lanes.ts';
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
  /** Files that were taken up before, or are results, and as what they are known. */
  known: { path: string; as: KnownFile; result: boolean; file: KnownFile }[];
  /** What nothing can be made of, and why. `passing`: the reason may go away by itself, and says nothing of the file. */
  left: { seen: Seen; problem: Problem; passing: boolean }[];
  /** What lies beside clips, and of which nothing is to be made. */
  beside: Seen[];
}

/** Files whose contents are looked at a few at a time. */
const atOnce = 4;

export interface TakeUpOptions {
  root: Root;
  known: Acquaintances;
  /** Whether a file only says that another is whole. */
  saysWhole: (path: string) => boolean;
}

/**
 * Looks into what may be taken up: which of its files were taken up before, what clips the others are, and what is no
 * clip. Files of one structure are read together with what is known of it, so that chapters and sidecars find each
 * other.
 */
export async function takeUp(ready: readonly Ready[], options: TakeUpOptions): Promise<TakenUp[]> {
  const taken = ready.map((one): TakenUp => ({ ready: one, clips: [], known: [], left: [], beside: [] }));
  const acquainted = new Map<string, Acquainted>();
  const owners = new Map<string, TakenUp>();
  const work = taken.flatMap((one) => one.ready.files.map((seen) => ({ one, seen })));
  await inLanes(work, atOnce, async ({ one, seen }) => {
    owners.set(seen.path, one);
    if (options.saysWhole(seen.path) || isSidecar(seen.path)) one.beside.push(seen);
    else {
      const met = await acquaint(options.root, seen, options.known).catch((error: unknown) => error as Error);
      if (met instanceof Error) one.left.push(unreadable(seen, met));
      else if (met.as) one.known.push({ path: seen.path, as: met.as, result: met.among === 'results', file: met.file });
      else acquainted.set(seen.path, met);
    }
  });
  if (acquainted.size === 0) return taken;
  await readNew(taken, { acquainted, owners }, options);
  return taken;
}

function unreadable(seen: Seen, error: NodeJS.ErrnoException): TakenUp['left'][number] {
  const problem: Problem = {
    what: `${seen.path} cannot be read (${error.code ?? error.message})`,
    remedy: 'Give Brisk Relay the right to read it; it is then taken up by itself',
  };
  return { seen, passing: true, problem: error.code === 'ENOENT' ? { ...problem, kind: 'original gone' } : problem };
}

/** What is read: of structures all that is there, of other things their own files; nothing that is known already. */
async function filesToRead(
  { ready: { thing, files } }: TakenUp,
  { root, saysWhole }: TakeUpOptions,
  isNew: (path: string) => boolean,
): Promise<FoundFile[]> {
  const found = ({ path }: { path: string }): FoundFile => ({
    root,
    shownPath: path,
    path: under(pathOf(root), path),
  });
  const own = files.filter(({ path }) => isNew(path) || (isSidecar(path) && !saysWhole(path))).map(found);
  if (thing.kind === 'files') return own;
  const place =
    typeof root === 'string' ? { root, folder: thing.key } : { ...root, folder: under(root.folder, thing.key) };
  const below = await filesBelow(place).catch(() => ({ files: [] }));
  const taken = new Set(own.map(({ shownPath }) => shownPath));
  const around = below.files
    .map(({ shownPath }) => found({ path: thing.key === '' ? shownPath : `${thing.key}/${shownPath}` }))
    .filter(({ shownPath }) => !taken.has(shownPath) && isSidecar(shownPath));
  return [...own, ...around].sort((a, b) => (a.shownPath < b.shownPath ? -1 : 1));
}

async function readNew(
  taken: readonly TakenUp[],
  { acquainted, owners }: { acquainted: ReadonlyMap<string, Acquainted>; owners: ReadonlyMap<string, TakenUp> },
  options: TakeUpOptions,
): Promise<void> {
  const lists = await Promise.all(taken.map((one) => filesToRead(one, options, (path) => acquainted.has(path))));
  const { clips, refusals } = await readFolder(lists.flat());
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
