import { useSyncExternalStore } from 'react';

/** Since when the server has not answered, as milliseconds of the clock; null while it answers. */
let awaySince: number | null = null;
const listeners = new Set<() => void>();

function say(since: number | null): void {
  if (since === awaySince) return;
  awaySince = since;
  listeners.forEach((listener) => listener());
}

export function noteAway(): void {
  say(awaySince ?? Date.now());
}

export function noteThere(): void {
  say(null);
}

/** Since when the server has not answered; null while it does. */
export function useAwaySince(): number | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => awaySince,
  );
}
