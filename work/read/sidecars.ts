import { isSidecar } from '@relay/core/clip/formats';
import { stemOf } from '@relay/core/clip/roll';
import { belongsTo, longestSidecarMark, mayTellOf, sidecarFacts } from '@relay/core/clip/sidecar';
import type { Tree } from '@relay/core/text/tree';
import type { Identity } from '@relay/core/identity/identity';
import { aside } from '../aside/aside.ts';
import { holding } from '../disk/held.ts';
import { readText } from '../disk/place.ts';
import type { FoundFile } from '../disk/walk.ts';

/** A sidecar larger than this holds more than facts. */
const mostBytes = 2_000_000;
/** A card has its index and one sidecar a clip; five thousand more say nothing new of a clip. */
const mostCardWide = 50;

function isXml(file: FoundFile): boolean {
  return /\.xml$/i.test(file.shownPath);
}

/** What lies beside the clips of a folder, read once. */
export class Sidecars {
  private readonly trees = new Map<string, Tree | null>();
  /** Files by every beginning that a clip's stem could be of theirs, so that each clip finds its own at once. */
  private readonly byBeginning = new Map<string, FoundFile[]>();
  private readonly cardWide: FoundFile[];

  /** `files` are all files of the folder, clips and sidecars alike. */
  constructor(private readonly files: readonly FoundFile[]) {
    for (const file of files) {
      const stem = stemOf(file.shownPath).toLowerCase();
      for (let cut = 0; cut <= longestSidecarMark && cut < stem.length; cut += 1) {
        const beginning = stem.slice(0, stem.length - cut);
        this.byBeginning.set(beginning, [...(this.byBeginning.get(beginning) ?? []), file]);
      }
    }
    // A sidecar that bears the name of no other file is about more than one clip.
    const stems = new Set(files.filter((file) => !isXml(file)).map((file) => stemOf(file.shownPath).toLowerCase()));
    this.cardWide = files
      .filter((file) => {
        const stem = stemOf(file.shownPath).toLowerCase();
        return (
          isXml(file) &&
          !Array.from({ length: longestSidecarMark + 1 }, (_, cut) =>
            stem.slice(0, Math.max(1, stem.length - cut)),
          ).some((beginning) => stems.has(beginning))
        );
      })
      .slice(0, mostCardWide);
  }

  private async treeOf(file: FoundFile): Promise<Tree | null> {
    const known = this.trees.get(file.shownPath);
    if (known !== undefined) return known;
    const text = await holding(async (held) => readText(await held.file(file.root, file.shownPath), mostBytes)).catch(
      () => null,
    );
    const parsed = text === null ? null : await aside('sidecar', text).catch(() => null);
    const tree = parsed?.ok ? parsed.value : null;
    this.trees.set(file.shownPath, tree);
    return tree;
  }

  /** Files that lie with a clip, and what they say of it: its own ones first, then those of the whole card. */
  async of(clipPath: string): Promise<{ paths: string[]; identity: Partial<Identity> }> {
    const beside = (this.byBeginning.get(stemOf(clipPath).toLowerCase()) ?? []).filter(
      (file) => file.shownPath !== clipPath && isSidecar(file.shownPath) && belongsTo(file.shownPath, clipPath),
    );
    let identity: Partial<Identity> = {};
    for (const file of [
      ...beside.filter(isXml),
      ...this.cardWide.filter((one) => mayTellOf(one.shownPath, clipPath)),
    ]) {
      const tree = await this.treeOf(file);
      if (tree) identity = { ...sidecarFacts(tree, file.shownPath, clipPath).identity, ...identity };
    }
    return { paths: beside.map((file) => file.shownPath), identity };
  }

  /** Files that sidecars list as one recording, as paths. */
  async spans(): Promise<string[][]> {
    const byName = new Map(
      this.files.map((file) => [
        file.shownPath.slice(file.shownPath.lastIndexOf('/') + 1).toLowerCase(),
        file.shownPath,
      ]),
    );
    const found: string[][] = [];
    for (const file of this.files.filter(isXml).slice(0, 500)) {
      const tree = await this.treeOf(file);
      for (const span of tree ? sidecarFacts(tree, file.shownPath, '').spans : [])
        found.push(span.flatMap((name) => byName.get(name) ?? []));
    }
    return found;
  }
}
