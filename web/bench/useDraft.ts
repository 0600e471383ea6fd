import { useRef, useState } from 'react';

/** What was tried and not used yet, by clip: going elsewhere and coming back finds it. */
const kept = new Map<string, unknown>();

/** What a draft is to become: itself, nothing, or made from what stands when it is said. */
export type Draft<T> = T | null | ((now: T) => T);

/**
 * A draft of something that is kept, by a key of its own. What is made from what stands is made from what stands now,
 * also after a wait. @returns the draft, null where nothing was tried, and how it is changed
 */
export function useDraft<T>(key: string, saved: T): [T | null, (wanted: Draft<T>) => void] {
  const [draft, setDraft] = useState<T | null>((kept.get(key) as T | undefined) ?? null);
  const current = useRef(draft ?? saved);
  const change = (wanted: Draft<T>): void => {
    const next = typeof wanted === 'function' ? (wanted as (now: T) => T)(current.current) : wanted;
    current.current = next ?? saved;
    if (next === null) kept.delete(key);
    else kept.set(key, next);
    setDraft(next);
  };
  return [draft, change];
}
