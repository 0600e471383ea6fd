import { useEffect, useState } from 'react';

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
