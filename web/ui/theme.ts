import { useEffect, useState } from 'react';

export type Theme = 'dark' | 'chalk';

const chosenKey = 'theme';

/** The theme as `theme.js` laid it before the first frame. */
function laid(): Theme {
  return document.documentElement.dataset.theme === 'chalk' ? 'chalk' : 'dark';
}

/** The theme: the system's wish, which it follows, until a person chooses one; that is kept for the next visit. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(laid);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  useEffect(() => {
    const light = window.matchMedia('(prefers-color-scheme: light)');
    const follow = (): void => {
      if (localStorage.getItem(chosenKey) === null) setTheme(light.matches ? 'chalk' : 'dark');
    };
    light.addEventListener('change', follow);
    return () => light.removeEventListener('change', follow);
  }, []);
  const toggle = (): void => {
    const other = theme === 'dark' ? 'chalk' : 'dark';
    localStorage.setItem(chosenKey, other);
    setTheme(other);
  };
  return [theme, toggle];
}
