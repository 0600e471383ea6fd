import type { CopyRule } from '@relay/core/custody/clearing';
import { plural } from '../ui/format.ts';

/** What a production asks for before a card may be cleared: `2 copies on 2 disks`. */
export function sayCopyRule({ copies, stores, oneDisk }: CopyRule): string {
  return `${plural(copies, 'copy', 'copies')} on ${plural(stores, oneDisk ? 'store' : 'disk')}`;
}
