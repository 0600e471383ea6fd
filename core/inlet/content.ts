/** A file that an inlet took up, as it is remembered: by where it lay, and by what was in it. */
export interface KnownFile {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
  /** Checksum of samples of it. */
  sampled: string;
  /** Checksum of all of it; null until that was read. */
  whole: string | null;
}

/** What must be read of a file to say whether it was taken up before. */
export type Acquaintance =
  | { kind: 'known'; as: KnownFile; how: 'same place' | 'same content' }
  | { kind: 'new' }
  /** Files of this size are known: samples of it tell more. */
  | { kind: 'sample it' }
  /** Samples are the same: only all of it tells. Those that it may be. */
  | { kind: 'read it'; maybe: readonly KnownFile[] };

/** What is read of a file so far. */
export interface FileContent {
  path: string;
  sizeBytes: number;
  modifiedAt: string;
  sampled?: string;
  whole?: string;
}

/** Files that were taken up, found by place, by size and by samples. A later word on a place takes the earlier's. */
export class KnownFiles {
  private readonly byPlace = new Map<string, KnownFile>();
  private readonly bySize = new Map<number, Set<KnownFile>>();

  constructor(files: Iterable<KnownFile> = []) {
    for (const file of files) this.add(file);
  }

  get size(): number {
    return this.byPlace.size;
  }

  at(path: string): KnownFile | undefined {
    return this.byPlace.get(path);
  }

  all(): Iterable<KnownFile> {
    return this.byPlace.values();
  }

  add(file: KnownFile): void {
    this.forget(file.path);
    this.byPlace.set(file.path, file);
    const alike = this.bySize.get(file.sizeBytes);
    if (alike) alike.add(file);
    else this.bySize.set(file.sizeBytes, new Set([file]));
  }

  forget(path: string): void {
    const before = this.byPlace.get(path);
    if (!before) return;
    this.byPlace.delete(path);
    this.bySize.get(before.sizeBytes)?.delete(before);
  }

  /** Whether a file lies where one of the same size and time was taken up: nothing of it need be read. */
  sameAsEver({ path, sizeBytes, modifiedAt }: FileContent): boolean {
    const there = this.byPlace.get(path);
    return there?.sizeBytes === sizeBytes && there.modifiedAt === modifiedAt;
  }

  /** Whether a file was taken up before, or what must be read to tell. As little of it is read as tells. */
  acquaintance(file: FileContent): Acquaintance {
    const there = this.byPlace.get(file.path);
    if (there && this.sameAsEver(file)) return { kind: 'known', as: there, how: 'same place' };
    const sameSize = this.bySize.get(file.sizeBytes);
    if (!sameSize || sameSize.size === 0) return { kind: 'new' };
    if (file.sampled === undefined) return { kind: 'sample it' };
    const maybe = [...sameSize].filter(({ sampled }) => sampled === file.sampled);
    if (maybe.length === 0) return { kind: 'new' };
    if (file.whole === undefined) return { kind: 'read it', maybe };
    const same = maybe.find(({ whole }) => whole === file.whole);
    return same ? { kind: 'known', as: same, how: 'same content' } : { kind: 'new' };
  }
}
