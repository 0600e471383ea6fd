import type { LutFinding } from '@relay/core/colour/examine/finding';
import { lutFacts, latticeEdge } from '@relay/core/colour/examine/facts';
import { readLutFile } from '@relay/core/colour/lut/file';
import { useMemo } from 'react';
import Plotly from 'plotly.js-gl3d-dist-min';
import { axisOf, plotConfig, plotFont, plotGround, usePlot } from '../ui/usePlot.ts';

interface PlotsProps {
  text: string;
  fileName: string;
  /** The finding that is looked at, marked in the drawings. */
  finding: LutFinding | null;
}

/** What a LUT does, drawn: greys, each channel by itself, and its cube. */
export function LutPlots({ text, fileName, finding }: PlotsProps) {
  const facts = useMemo(() => {
    const read = readLutFile(text, fileName);
    return read.ok ? lutFacts(read.value) : null;
  }, [text, fileName]);
  const curves = useMemo(
    () =>
      (target: HTMLElement, colour: (name: string) => string): void => {
        if (!facts) return;
        const every = 4;
        const x = [...facts.inputs].filter((_, i) => i % every === 0).map((v) => v * 1023);
        const line = (name: string, hue: string, y: number[], dash: string) => ({
          type: 'scatter',
          mode: 'lines',
          name,
          x,
          y: y.filter((_, i) => i % every === 0).map((v) => v * 1023),
          line: { color: hue, width: 1.6, dash },
          hovertemplate: `${name} %{x:.0f} → %{y:.1f}<extra></extra>`,
        });
        const axis = { ...axisOf(colour), tickvals: [0, 64, 256, 512, 768, 940, 1023] };
        const marks = finding && finding.picture.kind !== 'lattice' ? finding.picture.marks : [];
        const inks = [colour('rose'), colour('teal'), colour('sky')];
        void Plotly.react(
          target,
          [
            {
              type: 'scatter',
              mode: 'lines',
              x: [0, 1023],
              y: [0, 1023],
              line: { color: colour('lane'), width: 1 },
              hoverinfo: 'skip',
            },
            ...[0, 1, 2].map((c) =>
              line(
                `${['red', 'green', 'blue'][c]} of a grey`,
                inks[c] as string,
                Array.from(facts.inputs, (_, i) => facts.neutral[i * 3 + c] as number),
                'solid',
              ),
            ),
            ...[0, 1, 2].map((c) =>
              line(
                `${['red', 'green', 'blue'][c]} alone`,
                inks[c] as string,
                Array.from(facts.channels[c as 0 | 1 | 2]),
                'dot',
              ),
            ),
          ],
          {
            ...plotGround,
            showlegend: false,
            height: 280,
            margin: { l: 48, r: 10, t: 8, b: 34 },
            font: plotFont(colour('dim')),
            xaxis: { ...axis, title: { text: 'code in, of 1023', font: plotFont(colour('dim')) } },
            yaxis: axis,
            shapes: marks.map(([from, to]) => ({
              type: 'rect',
              xref: 'x',
              yref: 'paper',
              x0: from * 1023,
              x1: Math.max(to * 1023, from * 1023 + 4),
              y0: 0,
              y1: 1,
              fillcolor: colour('amber'),
              opacity: 0.22,
              line: { width: 0 },
            })),
          },
          plotConfig,
        );
      },
    [facts, finding],
  );
  const lattice = useMemo(
    () =>
      (target: HTMLElement, colour: (name: string) => string): void => {
        if (!facts?.threeDimensional) return;
        const n = latticeEdge;
        const picked: number[] = [];
        for (let b = 0; b < n; b += 2)
          for (let g = 0; g < n; g += 2) for (let r = 0; r < n; r += 2) picked.push(r + n * (g + n * b));
        const of = (c: number) => picked.map((i) => facts.lattice[i * 3 + c] as number);
        const hue = picked.map(
          (i) =>
            `rgb(${[0, 1, 2].map((c) => Math.round(Math.min(1, Math.max(0, facts.lattice[i * 3 + c] as number)) * 255)).join(',')})`,
        );
        const points = finding?.picture.kind === 'lattice' ? finding.picture.points : [];
        const marked = points.map(
          ([r, g, b]) => (Math.round(r * (n - 1)) + n * (Math.round(g * (n - 1)) + n * Math.round(b * (n - 1)))) * 3,
        );
        const axis = (title: string) => ({
          title: { text: title },
          color: colour('dim'),
          gridcolor: colour('line'),
          backgroundcolor: 'rgba(0,0,0,0)',
          zeroline: false,
          showspikes: false,
          tickfont: { size: 9 },
        });
        void Plotly.react(
          target,
          [
            {
              type: 'scatter3d',
              mode: 'markers',
              x: of(0),
              y: of(1),
              z: of(2),
              marker: { size: 3, color: hue },
              hoverinfo: 'skip',
            },
            ...(marked.length > 0
              ? [
                  {
                    type: 'scatter3d',
                    mode: 'markers',
                    x: marked.map((i) => facts.lattice[i]),
                    y: marked.map((i) => facts.lattice[i + 1]),
                    z: marked.map((i) => facts.lattice[i + 2]),
                    marker: { size: 5, symbol: 'diamond', color: colour('amber') },
                    hoverinfo: 'skip',
                  },
                ]
              : []),
          ],
          {
            ...plotGround,
            showlegend: false,
            height: 320,
            margin: { l: 0, r: 0, t: 0, b: 0 },
            font: plotFont(colour('dim')),
            scene: {
              xaxis: axis('red'),
              yaxis: axis('green'),
              zaxis: axis('blue'),
              aspectmode: 'cube',
              camera: { eye: { x: 1.5, y: -1.5, z: 0.9 } },
            },
          },
          plotConfig,
        );
      },
    [facts, finding],
  );
  const curvePlace = usePlot(Plotly, curves);
  const latticePlace = usePlot(Plotly, lattice);
  if (!facts) return <p className="text-dim">This file cannot be drawn.</p>;
  return (
    <div className="grid gap-6 lg:grid-cols-2">
      <figure>
        <figcaption className="mb-1 text-dim">Greys (solid) and each channel by itself (dotted)</figcaption>
        <div ref={curvePlace} role="img" aria-label="Response of greys and of each channel" />
      </figure>
      {facts.threeDimensional && (
        <figure>
          <figcaption className="mb-1 text-dim">Where the colours of an even lattice come to lie</figcaption>
          <div ref={latticePlace} role="img" aria-label="The cube's lattice in three dimensions" />
        </figure>
      )}
    </div>
  );
}
