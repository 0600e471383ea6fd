import { compile3d } from '@relay/core/colour/lut/eval3d';
import { signalsOf } from '@relay/core/colour/lut/image';
import { useMemo } from 'react';
import type { CubeData, FrameData } from './messages.ts';

/** A sample of the picture, from its top left. */
export interface Point {
  x: number;
  y: number;
}

type Signals = readonly number[];

/** Signals at a sample before and after, from core. */
function signalsAt(frame: FrameData, cube: CubeData | null, { x, y }: Point): { before: Signals; after: Signals } {
  const size = frame.width * frame.height;
  const i = y * frame.width + x;
  const codes = [frame.planes[i], frame.planes[size + i], frame.planes[2 * size + i]] as number[];
  const before = Float64Array.from(signalsOf(Uint16Array.from(codes), 1, 1, frame.matrix));
  const after = Float64Array.from(before);
  if (cube) compile3d(cube, 'tetrahedral')(after);
  return { before: [...before], after: [...after] };
}

/** R'G'B' in 10-bit codes of video levels, and in percent. */
function said(rgb: Signals): string {
  const codes = rgb.map((x) => String(Math.round(64 + 876 * x)).padStart(4)).join(' ');
  const percent = rgb.map((x) => (x * 100).toFixed(1).padStart(5)).join(' ');
  return `${codes} · ${percent} %`;
}

interface PointLineProps {
  frame: FrameData | undefined;
  cube: CubeData | null;
  point: Point | null;
}

/** Codes and percents under the pointer, before and after. */
export function PointLine({ frame, cube, point }: PointLineProps) {
  const values = useMemo(
    () => (frame && point && point.x < frame.width && point.y < frame.height ? signalsAt(frame, cube, point) : null),
    [frame, cube, point],
  );
  return (
    <p
      className="flex h-6 shrink-0 items-center justify-between px-3 font-mono text-[11px] whitespace-pre text-surround-dim"
      aria-live="off"
    >
      {point && values ? (
        <>
          <span>{said(values.before)}</span>
          <span>
            {point.x}, {point.y}
          </span>
          <span>{said(values.after)}</span>
        </>
      ) : (
        <span>R G B under the pointer, in codes of 1023 and percent</span>
      )}
    </p>
  );
}
