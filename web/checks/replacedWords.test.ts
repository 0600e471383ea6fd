import { expect, it } from 'vitest';
import { sayReplaced } from './replacedWords.ts';

it('what replaced a file is said by what it was told by, with what to do', () => {
  const say = (replaced: 'size' | 'contents' | 'written' | null, isOriginal: boolean) =>
    sayReplaced({ title: isOriginal ? 'Original' : 'Proxy', replaced }, isOriginal);
  expect(say(null, false)).toBeNull();
  expect(say('size', false)).toBe(
    'Proxy is not the file that was proved: its size is another. Move it away, and retry its leg to make it again.',
  );
  expect(say('contents', true)).toBe(
    'Original is not the file that this was made of: its contents are others. Put the right one back, or read its folder again and make this again.',
  );
  expect(say('written', true)).toBe(
    'Original was written since this was made of it, and was not read here to tell whether it is the same. If nobody copied it back: put the right one back, or read its folder again and make this again.',
  );
});
