import { useEffect, useRef, useState } from 'react';
import { keepDraft, keptDraft } from '../ui/useKept.ts';

/** What a draft is to become: itself, nothing, or made from what stands when it is said. */
export type Draft<T> = T | null | ((now: T) => T);

/**
 * A draft of something that is saved elsewhere, by a key of its own: going elsewhere, or loading the page anew, and coming
 * back finds it. What is made from what stands is made from what
 * stands now, also after a wait: the draft, or what is saved meanwhile. @returns the draft, null where nothing was
 * tried, and how it is changed
 */
export function useDraft<T>(key: string, saved: T): [T | null, (wanted: Draft<T>) => void] {
  const [draft, setDraft] = useState<T | null>(() => keptDraft(key) as T | null);
  const latest = useRef(saved);
  useEffect(() => {
    latest.current = saved;
  });
  const change = (wanted: Draft<T>): void => {
    const now = (keptDraft(key) as T | null) ?? latest.current;
    const next = typeof wanted === 'function' ? (wanted as (now: T) => T)(now) : wanted;
    keepDraft(key, next);
    setDraft(next);
  };
  return [draft, change];
}
