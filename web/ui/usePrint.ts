import { useState } from 'react';
import { flushSync } from 'react-dom';

/**
 * Prints the page with all that belongs on paper: paper has no sight for things to come into. While `whole` is true the
 * page draws everything and fetches its pictures, which are waited for; those that do not come are left out.
 */
export function usePrint(): { whole: boolean; coming: boolean; print: () => Promise<void> } {
  const [whole, setWhole] = useState(false);
  const [coming, setComing] = useState(false);
  const print = async (): Promise<void> => {
    flushSync(() => {
      setWhole(true);
      setComing(true);
    });
    const left = [...document.querySelectorAll<HTMLImageElement>('article img')].filter(({ complete }) => !complete);
    await Promise.all(
      left.map(
        (one) =>
          new Promise((come) => {
            for (const event of ['load', 'error']) one.addEventListener(event, come, { once: true });
          }),
      ),
    );
    flushSync(() => setComing(false));
    window.print();
  };
  return { whole, coming, print };
}
