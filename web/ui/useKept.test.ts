import { expect, it, vi } from 'vitest';
import { forgetOldDrafts, keepDraft, keptDraft } from './useKept.ts';

/** What a browser keeps, as far as drafts need it. */
function storage(mostBytes = Infinity): Storage {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => {
      if (text.length > mostBytes) throw new DOMException('full', 'QuotaExceededError');
      kept.set(key, text);
    },
    removeItem: (key: string) => void kept.delete(key),
    key: (index: number) => [...kept.keys()][index] ?? null,
    get length() {
      return kept.size;
    },
  } as unknown as Storage;
}

it('a draft is found again until it is given up, or a month old', () => {
  const store = storage();
  keepDraft('recipe a 1', { name: 'Night' }, store);
  expect(keptDraft('recipe a 1', store)).toEqual({ name: 'Night' });
  expect(keptDraft('recipe a 2', store)).toBeNull();
  vi.useFakeTimers({ now: Date.now() + 31 * 24 * 3_600_000 });
  expect(keptDraft('recipe a 1', store)).toBeNull();
  vi.useRealTimers();
  keepDraft('recipe a 1', null, store);
  expect(keptDraft('recipe a 1', store)).toBeNull();
});

it('what is no draft is none, and a browser without room keeps none', () => {
  const store = storage(8);
  store.setItem('draft  x', '{');
  expect(keptDraft('x', store)).toBeNull();
  expect(() => keepDraft('y', 'a long text', store)).not.toThrow();
  expect(keptDraft('y', store)).toBeNull();
});

it('drafts of another build, and what is none of them, are forgotten when the page is opened; nothing else is', () => {
  const store = storage();
  keepDraft('recipe a 1', { name: 'Night' }, store);
  store.setItem('draft http://127.0.0.1/assets/index-older.js recipe a 1', '{"at":9999999999999,"value":{}}');
  store.setItem('theme', 'chalk');
  forgetOldDrafts(store);
  expect(keptDraft('recipe a 1', store)).toEqual({ name: 'Night' });
  expect([store.length, store.getItem('theme')]).toEqual([2, 'chalk']);
});
