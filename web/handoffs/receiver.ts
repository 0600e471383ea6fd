import type { HandoffChoices, HandoffOrder } from '@relay/contract/handoffs';
import { slug } from '../ui/format.ts';

/** What is proposed for a receiver, unless somebody says otherwise. */
export interface Proposed {
  name: string;
  folder: string;
  fileSystem: HandoffOrder['fileSystem'];
  roots: HandoffOrder['roots'];
}

/** What is proposed before anybody is named. */
export const forNobody: Proposed = { name: '', folder: '', fileSystem: 'exfat', roots: {} };

/**
 * What follows from a receiver's name: the next number of their hand-offs, a folder called after them, and what was said
 * of their drives the last time. Before it is known who was handed anything, everybody is new.
 */
export function proposedFor(receiver: string, receivers: HandoffChoices['receivers'] = []): Proposed {
  const whose = receiver.trim();
  if (whose === '') return forNobody;
  const known = receivers.find(({ name }) => name.toLowerCase() === whose.toLowerCase());
  return {
    name: `${whose} ${(known?.handoffs ?? 0) + 1}`,
    folder: `hand-offs/${slug(whose, 'receiver')}`,
    fileSystem: known ? known.fileSystem : forNobody.fileSystem,
    roots: known?.roots ?? forNobody.roots,
  };
}

/** What is proposed now, where what stands is what was proposed before; elsewhere what stands. */
export function following(stands: Proposed, before: Proposed, now: Proposed): Proposed {
  const same = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);
  const untouched = (name: Exclude<keyof Proposed, 'roots'>): boolean => same(stands[name], before[name]);
  return {
    // Emptied fields are filled again.
    name: untouched('name') || stands.name === '' ? now.name : stands.name,
    folder: untouched('folder') || stands.folder === '' ? now.folder : stands.folder,
    fileSystem: untouched('fileSystem') ? now.fileSystem : stands.fileSystem,
    roots: same(said(stands.roots), said(before.roots)) ? now.roots : stands.roots,
  };
}

/** The folders that were said, in one order: an empty field says none. */
function said(roots: Proposed['roots']): [string, string][] {
  return Object.entries(roots)
    .filter(([, root]) => root !== '')
    .sort(([one], [other]) => (one < other ? -1 : 1));
}
