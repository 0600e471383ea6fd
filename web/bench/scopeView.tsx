import type { Grid, Scopes } from '@relay/core/measure/scopes';
import { highestShown, lowestShown } from '@relay/core/measure/scopes';
import { useEffect, useRef } from 'react';

export const scopeKinds = ['waveform', 'parade', 'vector', 'histogram'] as const;
export type ScopeKind = (typeof scopeKinds)[number];
export const scopeNames: Readonly<Record<ScopeKind, string>> = {
  waveform: 'Luma',
  parade: 'R G B',
  vector: 'Colour',
  histogram: 'Counts',
};

const inks = { r: [224, 108, 108], g: [116, 196, 132], b: [112, 156, 232], luma: [214, 214, 214] } as const;

/** Which ink a column of a grid is drawn in. */
function inkOf(kind: ScopeKind, x: number, width: number): readonly [number, number, number] {
  if (kind !== 'parade') return inks.luma;
  return x < width / 3 ? inks.r : x < (2 * width) / 3 ? inks.g : inks.b;
}

function drawCounts(context: CanvasRenderingContext2D, kind: ScopeKind, { width, height, counts }: Grid): void {
  const image = context.createImageData(width, height);
  let total = 0;
  for (const count of counts) total += count;
  // Brightness by the root of the count, so that single samples are seen beside thousands.
  const full = Math.sqrt(total / (kind === 'vector' ? 400 : width * 6)) * 0.8 || 1;
  for (let y = 0; y < height; y += 1) {
    for (let x = 0; x < width; x += 1) {
      const count = counts[(height - 1 - y) * width + x] as number;
      if (count === 0) continue;
      const [r, g, b] = inkOf(kind, x, width);
      const i = (y * width + x) * 4;
      image.data.set([r, g, b, Math.min(255, 60 + (195 * Math.sqrt(count)) / full)], i);
    }
  }
  context.putImageData(image, 0, 0);
}

function drawHistogram(context: CanvasRenderingContext2D, { width, counts }: Grid, height: number): void {
  const top = Math.max(1, ...[...counts].sort((a, b) => a - b).slice(0, -8));
  [inks.luma, inks.r, inks.g, inks.b].forEach(([r, g, b], row) => {
    context.beginPath();
    for (let x = 0; x < width; x += 1)
      context.lineTo(x + 0.5, height - 1 - (Math.min(top, counts[row * width + x] as number) / top) * (height - 4));
    context.strokeStyle = `rgba(${r},${g},${b},${row === 0 ? 0.95 : 0.8})`;
    context.lineWidth = 1;
    context.stroke();
  });
}

/** Levels that are drawn as lines: black, half, white. */
const levels = [0, 0.5, 1];

/** One measurement of one picture. */
export function ScopeView({ kind, scopes, label }: { kind: ScopeKind; scopes: Scopes; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const grid = scopes[kind];
  const height = kind === 'histogram' ? 120 : grid.height;
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.clearRect(0, 0, grid.width, height);
    if (kind === 'histogram') drawHistogram(context, grid, height);
    else drawCounts(context, kind, grid);
  }, [kind, grid, height]);
  return (
    <figure className="relative min-w-0 flex-1 bg-surround-well" style={{ height: 132 }}>
      {kind === 'vector' ? (
        <svg viewBox="0 0 1 1" className="absolute top-1/2 left-1/2 size-[128px] -translate-1/2" aria-hidden>
          <circle cx=".5" cy=".5" r=".5" fill="none" stroke="var(--surround-line)" strokeWidth=".006" />
          <path d="M.5 0v1M0 .5h1" stroke="var(--surround-line)" strokeWidth=".005" />
        </svg>
      ) : (
        levels.map((level) => {
          const at = (level - lowestShown) / (highestShown - lowestShown);
          return (
            <span
              key={level}
              aria-hidden
              className={`absolute bg-surround-line ${kind === 'histogram' ? 'inset-y-0 w-px' : 'inset-x-0 h-px'}`}
              style={kind === 'histogram' ? { left: `${at * 100}%` } : { bottom: `${at * 100}%` }}
            />
          );
        })
      )}
      <canvas
        ref={canvas}
        width={grid.width}
        height={height}
        role="img"
        aria-label={`${label}: luma from ${scopes.lumaCodes[0]} to ${scopes.lumaCodes[1]} of 1023`}
        className={
          kind === 'vector' ? 'absolute top-1/2 left-1/2 size-[128px] -translate-1/2' : 'absolute inset-0 size-full'
        }
      />
    </figure>
  );
}
