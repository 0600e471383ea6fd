import type { RootAnswer } from '@relay/contract/site';
import { looksLikeCard } from '@relay/core/custody/cardFolders';
import { under } from '@relay/core/naming/under';
import { isDrive, isWithin, mountOf, mountsNow, type Mount } from '@relay/work/disk/mounts';
import { lookInto, type Store } from '@relay/work/disk/store';
import { statfs } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { notThere, Refused } from '../http.ts';
import type { Stores, StoreUse } from './stores.ts';

/** What a start lets its page look into. */
export interface AllowedRoots {
  /** Folders below which stores may be added from the page. */
  folders: readonly string[];
  /** Those of them that drives and cards are mounted below. */
  mountedBelow: readonly string[];
  /** The system's table of mounts. */
  mountTable: string;
}

/** Nothing may be added from the page. */
export const noRoots: AllowedRoots = { folders: [], mountedBelow: [], mountTable: '/dev/null' };

/** A folder below a root, and what it is added for. */
interface WantedPlace {
  root: string;
  folder: string;
  use: StoreUse;
}

/** Where something of a root lies among stores: in one that there is, or in one that would be added. */
interface Settled {
  /** The store's path. */
  path: string;
  /** The chosen folder below it. */
  folder: string;
}

/**
 * Folders of this machine that stores may be added from: what the start command allows, and drives and cards that are
 * mounted below those places. A place is only ever named as one of these roots and a folder below it; links are not
 * followed, and hidden folders are passed over.
 */
export class Roots {
  constructor(
    private readonly allowed: AllowedRoots,
    private readonly stores: Stores,
  ) {}

  /** Drives and cards that are mounted where people's are. */
  async drives(): Promise<Mount[]> {
    return (await mountsNow(this.allowed.mountTable)).filter(
      (mount) =>
        isDrive(mount) &&
        this.allowed.mountedBelow.some((folder) => isWithin(mount.path, folder) && mount.path !== folder),
    );
  }

  /** Folders that are allowed and there; places for drives only where they hold folders that are no drives. */
  private async folders(): Promise<string[]> {
    const drives = new Set((await this.drives()).map((drive) => drive.path));
    const looked = await Promise.all(
      [...this.allowed.folders, ...this.allowed.mountedBelow].map(async (path) => {
        const inside = await lookInto({ id: '', name: '', path }, '').catch(() => null);
        const own = inside?.folders.filter((name) => !drives.has(under(path, name))) ?? [];
        return inside !== null && (own.length > 0 || this.allowed.folders.includes(path)) ? [path] : [];
      }),
    );
    return looked.flat();
  }

  async list(): Promise<RootAnswer[]> {
    const [drives, stores] = [await this.drives(), await this.stores.list()];
    const plain = (await this.folders()).map((path) => ({ path, kind: 'folder' as const, readOnly: false }));
    const mounted = await Promise.all(
      drives.map(async ({ path, readOnly }) => {
        const folders = await lookInto({ id: '', name: '', path }, '').catch(() => ({ folders: [] }));
        return { path, kind: looksLikeCard(folders.folders) ? ('card' as const) : ('drive' as const), readOnly };
      }),
    );
    return Promise.all(
      [...mounted, ...plain].map(async (root) => {
        const space = await statfs(root.path).catch(() => null);
        return {
          ...root,
          name: basename(root.path) || root.path,
          freeBytes: space ? space.bavail * space.bsize : null,
          totalBytes: space ? space.blocks * space.bsize : null,
          store: stores.find((store) => store.path === root.path)?.id ?? null,
        };
      }),
    );
  }

  /** The root of that path as a place to look into. @throws Refused where it is none */
  async root(path: string): Promise<Store> {
    const known = [...(await this.folders()), ...(await this.drives()).map((drive) => drive.path)];
    if (!known.includes(path)) throw notThere('That drive or folder');
    return { id: '', name: basename(path) || path, path };
  }

  /** A folder below a root that may be looked into. @throws Refused where it cannot, or is hidden */
  private async chosen({ root: path, folder }: Omit<WantedPlace, 'use'>): Promise<{ root: Store; chosen: string }> {
    const root = await this.root(path);
    if (folder.split('/').some((name) => name.startsWith('.')))
      throw new Refused(400, { what: `${folder} is hidden`, remedy: 'Choose a folder that can be seen' });
    await lookInto(root, folder).catch(() => {
      throw new Refused(404, {
        what: `${folder || root.name} cannot be opened`,
        remedy: 'See that it is there and may be read, and that no link is on the way',
      });
    });
    return { root, chosen: folder === '' ? root.path : under(root.path, folder) };
  }

  /** Says that a store which is away lies in a folder of a root now. @throws Refused where that is not it */
  async lies(store: Store, wanted: Omit<WantedPlace, 'use'>, vouched = false): Promise<void> {
    await this.stores.moved(store, (await this.chosen(wanted)).chosen, vouched);
  }

  /**
   * Has a folder of a root lie in a store: in the one that holds it already, else in a new one. That is the whole drive
   * where it is on one, else the folder around it, so that what is made has a place beside the originals, not among
   * them; where something is to be made, the folder itself. Nothing is made on a card, or on what is mounted to be read.
   */
  async settle({ root: rootPath, folder, use }: WantedPlace): Promise<{ store: Store; folder: string }> {
    const { root, chosen } = await this.chosen({ root: rootPath, folder });
    const source = await this.isSource(chosen);
    if (use === 'make' && source)
      throw new Refused(409, {
        what: `${basename(chosen)} is a card, or is mounted to be read: nothing is made on it`,
        remedy: 'Choose another place',
      });
    const around = (await this.stores.list())
      .filter((store) => isWithin(chosen, store.path))
      .sort((a, b) => b.path.length - a.path.length)[0];
    if (around) {
      const store = use === 'make' && around.readOnly ? await this.stores.letWrite(around.id) : around;
      return { store: store ?? around, folder: chosen.slice(around.path.length + 1) };
    }
    const place = use === 'make' ? { path: chosen, folder: '' } : await this.newPlace(root.path, chosen);
    return { store: await this.stores.add(place.path, source ? 'bring in' : use), folder: place.folder };
  }

  /** Whether a folder lies on a card, or on what is mounted to be read. */
  private async isSource(path: string): Promise<boolean> {
    const drive = mountOf(await this.drives(), path);
    const seen = drive && (await this.list()).find((root) => root.path === drive.path);
    return seen !== undefined && (seen.kind === 'card' || seen.readOnly);
  }

  private async newPlace(root: string, chosen: string): Promise<Settled> {
    const drive = mountOf(await this.drives(), chosen);
    const path = drive && isWithin(drive.path, root) ? drive.path : chosen === root ? root : dirname(chosen);
    return { path, folder: chosen === path ? '' : chosen.slice(path === '/' ? 1 : path.length + 1) };
  }
}
