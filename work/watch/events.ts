import { watch, type FSWatcher } from 'node:fs';
import { pathOf, type Root } from '../disk/held.ts';
import { nameProblem, under } from '@relay/core/naming/under';

/**
 * What the system says of changes in folders, one watch for each folder. It only says where to look again: what is
 * there is what a look finds, so that a share without events, which is looked at regularly, comes to the same.
 */
export class FolderEvents {
  private readonly watches = new Map<string, FSWatcher>();

  constructor(
    private readonly root: Root,
    /** Told of a folder in which something changed, and of what has the name that changed in it. */
    private readonly onChange: (path: string) => void,
  ) {}

  /**
   * Watches the files directly in a folder that is new: what had its name before is watched no more. Folders that
   * cannot be watched are only looked at.
   */
  add(folder: string): void {
    this.drop(folder);
    try {
      const one = watch(under(pathOf(this.root), folder), { persistent: false }, (_, name) => {
        this.onChange(folder);
        // It may be a folder that took another's place.
        if (name !== null && nameProblem(name) === null) this.onChange(under(folder, name));
      });
      one.on('error', () => this.drop(folder));
      this.watches.set(folder, one);
    } catch {
      // The system's number of watches is used up, or the share has none.
    }
  }

  private drop(folder: string): void {
    this.watches.get(folder)?.close();
    this.watches.delete(folder);
  }

  /** Lets those go that are not there any more. */
  keep(folders: Iterable<string>): void {
    const kept = new Set(folders);
    for (const folder of [...this.watches.keys()]) if (!kept.has(folder)) this.drop(folder);
  }

  close(): void {
    for (const folder of [...this.watches.keys()]) this.drop(folder);
  }
}
