import { isSidecar } from '../clip/formats.ts';
import { folderOf, stemOf } from '../clip/roll.ts';
import { belongsTo, longestSidecarMark } from '../clip/sidecar.ts';
import { isCardFolder } from '../custody/cardFolders.ts';
import { endsAtSplitSize, near, placeInSeries } from '../clip/chapters.ts';

/** What waits in an inlet and is taken up together. */
export interface Thing {
  /** What it is known by: of a structure its folder, else the first of its files that is no sidecar. */
  key: string;
  /** *structure*: a card's or a roll's folder with all below it. *files*: a clip's files, beside whatever else lies there. */
  kind: 'structure' | 'files';
  /** Its files, in order. */
  paths: readonly string[];
}

/** A file as things are made of it. */
export interface ThingFile {
  path: string;
  sizeBytes: number;
  /** Whether it was long enough unchanged. */
  quiet: boolean;
}

/**
 * The folder of the card's structure that a file lies in: what holds a camera's own folders. Null for a file that lies
 * in none.
 */
export function structureOf(path: string, rolls: ReadonlySet<string>): string | null {
  const folders = path.split('/').slice(0, -1);
  const inside = folders.findIndex(isCardFolder);
  if (inside >= 0) return folders.slice(0, inside).join('/');
  for (let depth = 1; depth <= folders.length; depth += 1) {
    const folder = folders.slice(0, depth).join('/');
    if (rolls.has(folder)) return folder;
  }
  return null;
}

/** Sets of names that are joined two by two. */
class Joined {
  private readonly parents = new Map<string, string>();

  root(name: string): string {
    let at = name;
    for (let parent = this.parents.get(at); parent !== undefined; parent = this.parents.get(at)) at = parent;
    if (at !== name) this.parents.set(name, at);
    return at;
  }

  join(a: string, b: string): void {
    const [one, other] = [this.root(a), this.root(b)];
    if (one !== other) this.parents.set(other, one);
  }
}

/** Whether two files that count up may be parts of one recording. What still grows may be, whatever its size. */
function maybeChapters(a: ThingFile, b: ThingFile): boolean {
  return !a.quiet || !b.quiet || endsAtSplitSize(a.sizeBytes) || near(a.sizeBytes, b.sizeBytes, 0.03);
}

function joinSeries(files: readonly ThingFile[], joined: Joined): void {
  const series = new Map<string, ThingFile>();
  const keyOf = (name: string, number: number, path: string): string =>
    `${name}\0${number}\0${path.slice(path.lastIndexOf('.')).toLowerCase()}`;
  const placed = files.flatMap((file) => {
    const place = isSidecar(file.path) ? null : placeInSeries(file.path);
    return place ? [{ file, ...place }] : [];
  });
  for (const { file, series: name, number } of placed) series.set(keyOf(name, number, file.path), file);
  for (const { file, series: name, number } of placed) {
    const next = series.get(keyOf(name, number + 1, file.path));
    if (next && maybeChapters(file, next)) joined.join(file.path, next.path);
  }
}

/** Folders beside a sidecar's that hold a clip of its name; among more of them, nobody can say which is its own. */
const mostBeside = 20;

/** Files by stem and folder; clips also by stem and the folder above theirs: where a sidecar's clip may lie. */
class ByStem {
  private readonly all = new Map<string, string[]>();
  private readonly clips = new Map<string, string[]>();
  private readonly below = new Map<string, string[]>();

  constructor(files: readonly ThingFile[]) {
    for (const { path } of files) {
      const [stem, folder] = [stemOf(path).toLowerCase(), folderOf(path)];
      put(this.all, `${stem}\0${folder}`, path);
      if (isSidecar(path)) continue;
      put(this.clips, `${stem}\0${folder}`, path);
      put(this.below, `${stem}\0${folderOf(folder)}`, path);
    }
  }

  in(stem: string, folder: string): readonly string[] {
    return this.all.get(`${stem}\0${folder}`) ?? [];
  }

  /** The clips of a stem that a sidecar in a folder may lie with: those there, and only without any those beside it. */
  clipsFor(stem: string, folder: string): readonly string[] {
    const here = this.clips.get(`${stem}\0${folder}`);
    if (here) return here;
    const above = folderOf(folder);
    const beside = [this.clips, this.below].flatMap((places) =>
      [folder, above].map((at) => places.get(`${stem}\0${at}`) ?? []),
    );
    return beside.reduce((sum, { length }) => sum + length, 0) > mostBeside ? [] : beside.flat();
  }
}

function put(lists: Map<string, string[]>, key: string, path: string): void {
  const list = lists.get(key);
  if (list) list.push(path);
  else lists.set(key, [path]);
}

/** Files of one stem lie together, and sidecars with the clip that they bear the name of, in its folder or one beside it. */
function joinSidecars(files: readonly ThingFile[], joined: Joined): void {
  const byStem = new ByStem(files);
  for (const { path } of files) {
    const [stem, folder] = [stemOf(path).toLowerCase(), folderOf(path)];
    const [first] = byStem.in(stem, folder);
    if (first !== undefined && first !== path) joined.join(first, path);
    if (!isSidecar(path)) continue;
    for (let cut = 0; cut <= longestSidecarMark && cut < stem.length; cut += 1)
      for (const clip of byStem.clipsFor(stem.slice(0, stem.length - cut), folder))
        if (belongsTo(path, clip)) joined.join(clip, path);
  }
}

/**
 * What waits, parted into what belongs together and waits for each other: everything of a card's or a roll's folder
 * (`rolls`: folders with a manifest or an index of their own), else a clip with its sidecars and what may be its chapters.
 */
export function thingsAmong(files: readonly ThingFile[], rolls: ReadonlySet<string> = new Set()): Thing[] {
  const structures = new Map<string, string[]>();
  const loose: ThingFile[] = [];
  for (const file of files) {
    const structure = structureOf(file.path, rolls);
    if (structure === null) loose.push(file);
    else put(structures, structure, file.path);
  }
  const joined = new Joined();
  joinSidecars(loose, joined);
  joinSeries(loose, joined);
  const families = new Map<string, string[]>();
  for (const { path } of loose) put(families, joined.root(path), path);
  const ordered = (paths: readonly string[]): string[] => [...paths].sort();
  return [
    ...[...structures].map(([key, paths]): Thing => ({ key, kind: 'structure', paths: ordered(paths) })),
    ...[...families.values()].map((paths): Thing => {
      const sorted = ordered(paths);
      return { key: sorted.find((path) => !isSidecar(path)) ?? sorted[0] ?? '', kind: 'files', paths: sorted };
    }),
  ].sort((a, b) => (a.key < b.key ? -1 : 1));
}
