import type { LookAnswer } from '@relay/contract/clips';
import Plotly from 'plotly.js-basic-dist-min';
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
        const bars = (name: string, hue: string, take: (index: number) => boolean) => {
          const picked = flow.seconds.map((_, index) => index).filter(take);
          return {
            type: 'bar' as const,
            name,
            x: picked.map((index) => flow.seconds[index] as number),
            y: picked.map((index) =>
              flow.kind === 'pictures'
                ? (flow.bytes[index] as number) / 1e3
                : ((flow.bytes[index] as number) * 8) / 1e6,
            ),
            marker: { color: colour(hue), line: { width: 0 } },
            width: flow.kind === 'pictures' ? 0.85 / rate : 0.9,
            hovertemplate:
              flow.kind === 'pictures'
                ? '%{x:.2f} s: %{y:.1f} kB<extra></extra>'
                : '%{x} s: %{y:.1f} Mb/s<extra></extra>',
          };
        };
        const axis = axisOf(colour);
        void Plotly.react(
          target,
          flow.kind === 'pictures'
            ? [
                bars('whole pictures', 'sky', (index) => flow.whole[index] === true),
                bars('pictures that lean on others', 'lane', (index) => flow.whole[index] !== true),
              ]
            : [bars('every second', 'sky', () => true)],
          {
            height: 170,
            margin: { l: 48, r: 8, t: 6, b: 30 },
            ...plotGround,
            barmode: 'overlay',
            bargap: 0,
            font: plotFont(colour('dim')),
            xaxis: { ...axis, ticksuffix: ' s', rangemode: 'tozero' },
            yaxis: {
              ...axis,
              ticksuffix: flow.kind === 'pictures' ? ' kB' : ' Mb/s',
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
