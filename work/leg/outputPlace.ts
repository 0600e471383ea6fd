import { membersOf } from '@relay/core/recipe/members';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { pathOf, type Held, type Root } from '../disk/held.ts';
import { fileSystemOf } from '../disk/place.ts';

/**
 * A finished output, held open: its file, or the folder of its files. @throws the system's error where it is not there
 */
export function outputIn(held: Held, output: OutputPlan, root: Root, path: string): Promise<string> {
  return membersOf(output) ? held.folder(root, path) : held.file(root, path);
}

/** The folders that outputs go below. */
export interface OutRoots {
  /** Where those go that have no place of their own. */
  outRoot: Root;
  /** Where a place of an output's own lies here; absent where none has one. @throws where it is not known */
  elsewhere?: (place: OutputPlace) => Root;
}

/** The folder that an output goes below. @throws where its place is not known here */
export function rootOf({ outRoot, elsewhere }: OutRoots, { place }: Pick<OutputPlan, 'place'>): Root {
  if (place === undefined) return outRoot;
  if (!elsewhere) throw new Error(`${place.store} is not known here`);
  return elsewhere(place);
}

/** Outputs by the file system that they go to: places on one share its room. */
export async function byDisk(
  outputs: readonly OutputPlan[],
  at: OutRoots,
): Promise<{ root: Root; outputs: OutputPlan[] }[]> {
  const disks = new Map<number, { root: Root; outputs: OutputPlan[] }>();
  for (const output of outputs) {
    const root = rootOf(at, output);
    const disk = await fileSystemOf(pathOf(root));
    const known = disks.get(disk) ?? { root, outputs: [] };
    known.outputs.push(output);
    disks.set(disk, known);
  }
  return [...disks.values()];
}
