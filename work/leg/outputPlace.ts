import { membersOf } from '@relay/core/recipe/members';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Held, Root } from '../disk/held.ts';

/**
 * A finished output, held open: its file, or the folder of its files. @throws the system's error where it is not there
 */
export function outputIn(held: Held, output: OutputPlan, root: Root, path: string): Promise<string> {
  return membersOf(output) ? held.folder(root, path) : held.file(root, path);
}
