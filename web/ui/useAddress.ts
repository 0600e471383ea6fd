import { useCallback } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** What the address says behind its `?`, and a way to say some of it anew; null takes a word out. */
export function useAddress(): [URLSearchParams, (change: Readonly<Record<string, string | null>>) => void] {
  const { search, pathname } = useLocation();
  const go = useNavigate();
  const change = useCallback(
    (said: Readonly<Record<string, string | null>>): void => {
      // Another page is on its way already: the address is its own.
      if (window.location.pathname !== pathname) return;
      // As it stands now, not as it was drawn: two parts of a page may speak at once.
      const now = new URLSearchParams(window.location.search);
      for (const [name, value] of Object.entries(said)) {
        if (value === null || value === '') now.delete(name);
        else now.set(name, value);
      }
      const next = now.toString();
      if (next !== window.location.search.replace(/^\?/, ''))
        void go({ search: next }, { replace: true, state: (window.history.state as { usr?: unknown } | null)?.usr });
    },
    [go, pathname],
  );
  return [new URLSearchParams(search), change];
}
