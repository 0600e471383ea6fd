import { useEffect, useRef, type RefObject } from 'react';

/** What a chart's drawing needs of Plotly, which comes with the first chart. */
interface Drawer {
  purge: (target: HTMLElement) => void;
}

/**
 * A place that a chart is drawn into: anew when `draw` changes or the theme does, and cleared when it goes. `colour`
 * gives the theme's own.
 */
export function usePlot(
  plotly: Drawer,
  draw: (target: HTMLElement, colour: (name: string) => string) => void,
): RefObject<HTMLDivElement | null> {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const target = place.current;
    if (!target) return;
    const again = (): void => {
      const style = getComputedStyle(document.documentElement);
      draw(target, (name) => style.getPropertyValue(`--${name}`).trim());
    };
    again();
    const watcher = new MutationObserver(again);
    watcher.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => watcher.disconnect();
  }, [draw]);
  useEffect(() => {
    const target = place.current;
    return () => {
      if (target) plotly.purge(target);
    };
  }, [plotly]);
  return place;
}

/** An axis in the theme's colours. */
export function axisOf(colour: (name: string) => string): object {
  return {
    color: colour('dim'),
    gridcolor: colour('line'),
    zerolinecolor: colour('line'),
    tickfont: { family: 'Spline Sans Mono Variable', size: 11 },
  };
}

export const plotFont = (colour: string): object => ({ family: 'Archivo Variable', size: 12, color: colour });
export const plotGround = { paper_bgcolor: 'rgba(0,0,0,0)', plot_bgcolor: 'rgba(0,0,0,0)' } as const;
export const plotConfig = { displayModeBar: false, responsive: true } as const;
