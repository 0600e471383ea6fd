import Plotly from 'plotly.js-gl3d-dist-min';
import { useMemo } from 'react';
import { axisOf, plotConfig, plotFont, plotGround, usePlot } from '../ui/usePlot.ts';

/** One line along time. */
export interface TimeLine {
  name: string;
  /** Seconds, and what was found there. */
  x: readonly number[];
  y: readonly (number | null)[];
  /** Of the output a full line, of what it was made of a broken one. */
  broken?: boolean;
  /** By the axis at the right. */
  right?: boolean;
}

interface TimePlotProps {
  label: string;
  lines: readonly TimeLine[];
  unit: string;
  rightUnit?: string;
  log?: boolean;
  seconds: number;
}

/** Lines along an output's length, with a legend of their own beside them. */
export function TimePlot({ label, lines, unit, rightUnit, log = false, seconds }: TimePlotProps) {
  const draw = useMemo(
    () =>
      (target: HTMLElement, colour: (name: string) => string): void => {
        const axis = axisOf(colour);
        const title = (text: string): object => ({ text, font: plotFont(colour('dim')) });
        void Plotly.react(
          target,
          lines.map(({ name, x, y, broken, right }) => ({
            type: 'scatter',
            mode: x.length < 40 ? 'lines+markers' : 'lines',
            name,
            x,
            y,
            ...(right ? { yaxis: 'y2' } : {}),
            line: {
              color: colour(right ? 'sky' : broken ? 'dim' : 'teal'),
              width: broken ? 1.2 : 1.6,
              dash: broken ? 'dot' : right ? 'dash' : 'solid',
              // A second's rate holds for that second.
              ...(log ? { shape: 'hv' } : {}),
            },
            marker: { size: 4 },
            cliponaxis: false,
            hovertemplate: `%{x:.2f} s: %{y:.4g} ${right ? (rightUnit ?? '') : unit}<extra>${name}</extra>`,
          })),
          {
            ...plotGround,
            font: plotFont(colour('dim')),
            // Room for labels of seven figures beside a title; the same in every plot, so that moments stand below each other.
            margin: { l: 58, r: 78, t: 6, b: 26 },
            height: 150,
            showlegend: false,
            xaxis: { ...axis, range: [0, Math.max(0.04, seconds)], ticksuffix: ' s' },
            yaxis: { ...axis, title: title(unit), ...(log ? { type: 'log', dtick: 'D1' } : {}) },
            ...(rightUnit === undefined
              ? {}
              : { yaxis2: { ...axis, overlaying: 'y', side: 'right', showgrid: false, title: title(rightUnit) } }),
          },
          plotConfig,
        );
      },
    [lines, unit, rightUnit, log, seconds],
  );
  const place = usePlot(Plotly, draw);
  return <div ref={place} role="img" aria-label={label} className="h-[150px] w-full" />;
}
