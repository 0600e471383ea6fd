import { placesApart, type CopyRule } from '../custody/clearing.ts';

/** Whether something that was made here may be deleted to get its space back: what it can be made again from, and who needs it. */

/** Where an original lies once: all its files, chapters among them. */
export interface OriginalCopy {
  store: string;
  disk: string | null;
  /** Its files are there now, as long as they were, or with the same samples where those were read. */
  there: boolean;
  /** It was proved against the card, or is the only one that is known of what was read where it lies. */
  proved: boolean;
}

export interface MadeFile {
  /** It lies under its name with the size that was written down. */
  there: boolean;
  /** Something that is known as an original, or a copy of one, lies at its path: then it was never made here. */
  original: boolean;
  /** Read-only stores give nothing back. */
  readOnly: boolean;
  /** It is an older version that was set aside: is the newer one there under its name, as it was written down? Null of any other. */
  newerThere: boolean | null;
  /** What of its plan is not kept any more: LUTs and pictures, by name; the plan itself. */
  lost: readonly string[];
  copies: readonly OriginalCopy[];
  /** Hand-offs, runs and measurements that are not done with it. */
  neededBy: readonly string[];
}

/** Why the originals of something do not stand as safely as a production asks; null where they do. */
export function originalsWanting(rule: CopyRule, copies: readonly OriginalCopy[]): string | null {
  const good = copies.filter(({ there, proved }) => there && proved);
  const away = copies.filter(({ there }) => !there).map(({ store }) => store);
  if (good.length < rule.copies)
    return `its original is there in ${good.length} proved ${good.length === 1 ? 'copy' : 'copies'}, ${rule.copies} ${rule.copies === 1 ? 'is' : 'are'} asked for${away.length > 0 ? ` (not found on ${[...new Set(away)].join(', ')})` : ''}`;
  const apart = placesApart(rule, good);
  return apart < rule.stores
    ? `its original's copies lie on ${apart} ${rule.oneDisk ? (apart === 1 ? 'store' : 'stores') : apart === 1 ? 'disk' : 'disks'}, ${rule.stores} are asked for`
    : null;
}

/** Why a file stays, the gravest first; null where it may go. */
export function staysBecause(rule: CopyRule, file: MadeFile): string | null {
  if (file.original) return 'it is an original, or lies where one does';
  if (file.readOnly) return 'its store is only read from';
  if (!file.there) return 'it is not there as it was written down';
  const [need] = file.neededBy;
  if (need !== undefined) return need;
  if (file.newerThere !== null) return file.newerThere ? null : 'no newer version lies under its name';
  const [lost] = file.lost;
  if (lost !== undefined) return `${lost} is not kept any more: it could not be made again`;
  return originalsWanting(rule, file.copies);
}

/** Why it is safe that it goes, in words; `older` of what was set aside as an older version. */
export function safeBecause(rule: CopyRule, older: boolean): string {
  return older
    ? 'a newer version lies under its name'
    : `made again from originals that are there in ${rule.copies} proved ${rule.copies === 1 ? 'copy' : 'copies'} or more`;
}

/** What somebody types before anything is deleted: it says how much that is. */
export function wordsToDelete(files: number): string {
  return `delete ${files}`;
}

/** Whether what was typed is that, whatever its spaces and case. */
export function isTyped(typed: string, files: number): boolean {
  return typed.trim().toLowerCase().replace(/\s+/g, ' ') === wordsToDelete(files);
}
