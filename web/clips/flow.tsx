import type { LookAnswer } from '@relay/contract/clips';
import Plotly from 'plotly.js-gl3d-dist-min';
import { useMemo } from 'react';
import { axisOf, plotConfig, plotFont, plotGround, usePlot } from '../ui/usePlot.ts';

/**
 * Data along the clip: a bar for each picture, whole ones apart from those that lean on others; second by second for
 * long clips.
 */
export function Flow({ flow, rate }: { flow: LookAnswer['flow']; rate: number }) {
  const draw = useMemo(
    () =>
      (target: HTMLElement, colour: (name: string) => string): void => {
        const [unit, half] = flow.kind === 'pictures' ? (['kB', 0.425 / rate] as const) : (['Mb/s', 0.45] as const);
        /** Bars as outlines that are filled, and the middle of the top of each to be pointed at. */
        const bars = (name: string, hue: string, take: (index: number) => boolean): object[] => {
          const picked = flow.seconds.map((_, index) => index).filter(take);
          const at = picked.map((index) => flow.seconds[index] as number);
          const tall = picked.map((index) => (flow.bytes[index] as number) * (flow.kind === 'pictures' ? 1e-3 : 8e-6));
          return [
            {
              type: 'scatter',
              mode: 'none',
              name,
              fill: 'toself',
              fillcolor: colour(hue),
              x: at.flatMap((x) => [x - half, x - half, x + half, x + half, null]),
              y: tall.flatMap((y) => [0, y, y, 0, null]),
              hoverinfo: 'skip',
            },
            {
              type: 'scatter',
              mode: 'markers',
              marker: { opacity: 0 },
              showlegend: false,
              x: at,
              y: tall,
              hovertemplate: `%{x:.2f} s: %{y:.1f} ${unit}<extra></extra>`,
            },
          ];
        };
        const axis = axisOf(colour);
        void Plotly.react(
          target,
          flow.kind === 'pictures'
            ? [
                ...bars('whole pictures', 'sky', (index) => flow.whole[index] === true),
                ...bars('pictures that lean on others', 'lane', (index) => flow.whole[index] !== true),
              ]
            : bars('every second', 'sky', () => true),
          {
            height: 170,
            margin: { l: 48, r: 8, t: 6, b: 30 },
            ...plotGround,
            font: plotFont(colour('dim')),
            xaxis: { ...axis, ticksuffix: ' s', rangemode: 'tozero' },
            yaxis: {
              ...axis,
              ticksuffix: ` ${unit}`,
              rangemode: 'tozero',
              fixedrange: true,
            },
            showlegend: flow.kind === 'pictures',
            legend: { orientation: 'h', x: 0, y: 1.18 },
          },
          plotConfig,
        );
      },
    [flow, rate],
  );
  const place = usePlot(Plotly, draw);
  return (
    <div
      ref={place}
      role="img"
      aria-label={
        flow.kind === 'pictures'
          ? `Size of each of ${flow.bytes.length} pictures`
          : `Data rate in each of ${flow.bytes.length} seconds`
      }
    />
  );
}
