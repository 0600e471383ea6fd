import { useEffect, useState } from 'react';

/** Drafts older than this are forgotten when the page is opened. */
const longestMs = 30 * 24 * 3_600_000;

/**
 * Drafts are of one build: another one may know other fields, and would stumble over them at every opening. The entry's
 * name has a mark of the build's content in it.
 */
const prefix = `draft ${typeof document === 'undefined' ? '' : (document.querySelector<HTMLScriptElement>('script[type=module]')?.src ?? '')} `;

interface KeptDraft {
  at: number;
  value: unknown;
}

/** A draft that was kept under a key; null where there is none, or what is kept is no draft. */
export function keptDraft(key: string, store: Storage = localStorage): unknown {
  try {
    const kept = JSON.parse(store.getItem(prefix + key) ?? 'null') as KeptDraft | null;
    return kept && Date.now() - kept.at < longestMs ? kept.value : null;
  } catch {
    return null;
  }
}

/** Forgets drafts of other builds, and those that are too old; once, when the page is opened. */
export function forgetOldDrafts(store: Storage = localStorage): void {
  const keys = Array.from({ length: store.length }, (_, index) => store.key(index) ?? '');
  for (const key of keys) {
    if (!key.startsWith('draft ')) continue;
    const own = key.startsWith(prefix) && keptDraft(key.slice(prefix.length), store) !== null;
    if (!own) store.removeItem(key);
  }
}

/** Keeps a draft under a key, or nothing any more for null. A browser that has no room keeps none. */
export function keepDraft(key: string, value: unknown, store: Storage = localStorage): void {
  try {
    if (value === null) store.removeItem(prefix + key);
    else store.setItem(prefix + key, JSON.stringify({ at: Date.now(), value }));
  } catch {
    // It lasts as long as the page, then.
  }
}

/**
 * A draft of something that is saved elsewhere: it is found again after leaving, and after the page was loaded anew,
 * until it is saved or given up. The key should hold the version of what is saved: a draft is of that one.
 * @returns the draft or what is saved, and how it is said
 */
export function useKept<T>(key: string, saved: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => (keptDraft(key) as T | null) ?? saved);
  const same = JSON.stringify(value) === JSON.stringify(saved);
  useEffect(() => keepDraft(key, same ? null : value), [key, same, value]);
  return [value, setValue];
}
