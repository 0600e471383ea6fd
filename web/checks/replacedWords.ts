import type { ComparedSide } from '@relay/contract/checks';

const by = {
  size: 'its size is another',
  contents: 'its contents are others',
} as const;

/** That something else lies in a side's place, and what to do; null where it is what it was. */
export function sayReplaced({ title, replaced }: Pick<ComparedSide, 'title' | 'replaced'>, isOriginal: boolean) {
  if (replaced === null) return null;
  const remedy = isOriginal
    ? 'Put the right one back, or read its folder again and make this again.'
    : 'Move it away, and retry its leg to make it again.';
  const was = isOriginal ? 'this was made of' : 'was proved';
  return replaced === 'written'
    ? `${title} was written since ${isOriginal ? 'this was made of it' : 'it was proved'}, and was not read here to tell whether it is the same. If nobody copied it back: ${remedy.charAt(0).toLowerCase()}${remedy.slice(1)}`
    : `${title} is not the file that ${was}: ${by[replaced]}. ${remedy}`;
}
