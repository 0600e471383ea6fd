import type { LegLine } from '@relay/contract/runs';
import Plotly from 'plotly.js-gl3d-dist-min';
import { useMemo } from 'react';
import { axisOf, plotConfig, plotFont, plotGround, usePlot } from '../ui/usePlot.ts';
import { flowOf } from './flow.ts';

const dashes = ['dot', 'dash', 'dashdot', 'longdash'];

/** How fast the run went along the clock, and how many legs each worker had in hand. */
export function Throughput({ legs, now }: { legs: readonly LegLine[]; now: number }) {
  const draw = useMemo(
    () =>
      (target: HTMLElement, colour: (name: string) => string): void => {
        const { times, speed, busy } = flowOf(legs, now);
        const x = times.map((time) => new Date(time));
        const axis = axisOf(colour);
        const title = (text: string): object => ({ text, font: plotFont(colour('dim')) });
        void Plotly.react(
          target,
          [
            {
              type: 'scatter',
              mode: 'lines',
              name: 'speed',
              x,
              y: speed,
              line: { color: colour('teal'), width: 1.8, shape: 'hv' },
              hovertemplate: '%{x|%H:%M:%S}: %{y:.2f}× real time<extra></extra>',
            },
            ...busy.map(({ worker, legs: count }, index) => ({
              type: 'scatter',
              mode: 'lines',
              name: worker,
              x,
              y: count,
              yaxis: 'y2',
              line: { color: colour('sky'), width: 1.2, dash: dashes[index % dashes.length], shape: 'hv' },
              hovertemplate: `${worker}: %{y:.1f} legs<extra></extra>`,
            })),
          ],
          {
            ...plotGround,
            font: plotFont(colour('dim')),
            margin: { l: 52, r: 52, t: 8, b: 26 },
            height: 150,
            showlegend: false,
            xaxis: { ...axis, tickformat: '%H:%M:%S' },
            yaxis: { ...axis, rangemode: 'tozero', ticksuffix: '×', title: title('speed') },
            yaxis2: {
              ...axis,
              overlaying: 'y',
              side: 'right',
              rangemode: 'tozero',
              dtick: 1,
              showgrid: false,
              title: title('legs in hand'),
            },
          },
          plotConfig,
        );
      },
    [legs, now],
  );
  const place = usePlot(Plotly, draw);
  return (
    <div
      ref={place}
      role="img"
      aria-label="Speed of the run along the clock, and legs that each worker has in hand"
      className="mx-6 mb-3 h-[150px]"
    />
  );
}
