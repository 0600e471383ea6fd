import type { LegLine } from '@relay/contract/api';
import Plotly from 'plotly.js-basic-dist-min';
import { useEffect, useRef } from 'react';
import { flowOf } from './flow.ts';

const font = (colour: string) => ({ family: 'Archivo Variable', size: 12, color: colour });

/** How fast the run went along the clock, and how many legs each worker had in hand. */
export function Throughput({ legs, now }: { legs: readonly LegLine[]; now: number }) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const target = place.current;
    if (!target) return;
    const draw = (): void => {
      const style = getComputedStyle(document.documentElement);
      const colour = (name: string): string => style.getPropertyValue(`--${name}`).trim();
      const { times, speed, busy } = flowOf(legs, now);
      const x = times.map((time) => new Date(time));
      const axis = { color: colour('dim'), gridcolor: colour('line'), zerolinecolor: colour('line'), tickfont: { family: 'Spline Sans Mono Variable', size: 11 } };
      const dashes = ['dot', 'dash', 'dashdot', 'longdash'];
      void Plotly.react(
        target,
        [
          { type: 'scatter', mode: 'lines', name: 'speed', x, y: speed, line: { color: colour('teal'), width: 1.8, shape: 'hv' }, hovertemplate: '%{x|%H:%M:%S}: %{y:.2f}× real time<extra></extra>' },
          ...busy.map(({ worker, legs: count }, index) => ({ type: 'scatter', mode: 'lines', name: worker, x, y: count, yaxis: 'y2', line: { color: colour('sky'), width: 1.2, dash: dashes[index % dashes.length], shape: 'hv' }, hovertemplate: `${worker}: %{y:.1f} legs<extra></extra>` })),
        ],
        {
          paper_bgcolor: 'rgba(0,0,0,0)', plot_bgcolor: 'rgba(0,0,0,0)', font: font(colour('dim')), margin: { l: 52, r: 52, t: 8, b: 26 }, height: 150, showlegend: false,
          xaxis: { ...axis, tickformat: '%H:%M:%S' }, yaxis: { ...axis, rangemode: 'tozero', ticksuffix: '×', title: { text: 'speed', font: font(colour('dim')) } },
          yaxis2: { ...axis, overlaying: 'y', side: 'right', rangemode: 'tozero', dtick: 1, showgrid: false, title: { text: 'legs in hand', font: font(colour('dim')) } },
        },
        { displayModeBar: false, responsive: true },
      );
    };
    draw();
    const watcher = new MutationObserver(draw);
    watcher.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    return () => watcher.disconnect();
  }, [legs, now]);
  useEffect(() => {
    const target = place.current;
    return () => { if (target) Plotly.purge(target); };
  }, []);
  return <div ref={place} role="img" aria-label="Speed of the run along the clock, and legs that each worker has in hand" className="mx-6 mb-3 h-[150px]" />;
}
