import { useEffect, useState } from 'react';

/** What canvases draw around pictures with, which know no style sheets: the tokens of `styles.css`. */
export const surround = { ground: '#2b2b2b', ink: '#d8d8d8' } as const;

export type Theme = 'dark' | 'chalk';

/** The theme, kept for the next visit; dark until somebody says otherwise. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(() => (localStorage.getItem('theme') === 'chalk' ? 'chalk' : 'dark'));
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem('theme', theme);
  }, [theme]);
  return [theme, () => setTheme((now) => (now === 'dark' ? 'chalk' : 'dark'))];
}
