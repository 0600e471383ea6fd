/** A heart that beats until it is stopped: what is under way says again and again that it still is. */
export interface Heart {
  stop(): void;
}

/**
 * Beats every so many milliseconds, beginning one of them from now. A beat that fails is let go: the next one says the
 * same, and who hears none of them takes over.
 */
export function beating(everyMs: number, beat: () => Promise<unknown>): Heart {
  const timer = setInterval(() => void beat().catch(() => undefined), everyMs);
  return {
    stop() {
      clearInterval(timer);
    },
  };
}
