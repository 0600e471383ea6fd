import type { LogChannel, Transform } from './op.ts';

/** Smallest number that a logarithm is taken of: the smallest normal single, as CLF asks. */
const tiny = 1.1754943508222875e-38;

/** The line below the break, in the way OCIO and S-2014-006 define it: through the logarithm's value at the break. */
function lineOf(p: LogChannel): { slope: number; offset: number; logBreak: number } | null {
  if (p.linSideBreak === null) return null;
  const inside = p.linSideSlope * p.linSideBreak + p.linSideOffset;
  const logBreak = p.logSideSlope * (Math.log(inside) / Math.log(p.base)) + p.logSideOffset;
  const slope = p.linearSlope ?? (p.logSideSlope * p.linSideSlope) / (inside * Math.log(p.base));
  return { slope, offset: logBreak - slope * p.linSideBreak, logBreak };
}

/** Why these parameters cannot be, or null. */
export function logProblem(p: LogChannel): string | null {
  if (!(p.base > 0) || p.base === 1) return 'base must be above 0 and not 1';
  if (p.linSideSlope === 0 || p.logSideSlope === 0) return 'a slope of 0 has no logarithm';
  if (p.linSideBreak !== null && p.linSideSlope * p.linSideBreak + p.linSideOffset <= 0)
    return 'linSideBreak lies where there is no logarithm';
  return null;
}

function toLog(p: LogChannel): (x: number) => number {
  const line = lineOf(p);
  const k = p.logSideSlope / Math.log(p.base);
  return (x) => {
    if (line && x <= (p.linSideBreak as number)) return line.slope * x + line.offset;
    return k * Math.log(Math.max(tiny, p.linSideSlope * x + p.linSideOffset)) + p.logSideOffset;
  };
}

function toLinear(p: LogChannel): (x: number) => number {
  const line = lineOf(p);
  const k = Math.log(p.base) / p.logSideSlope;
  return (y) => {
    if (line && y <= line.logBreak) return (y - line.offset) / line.slope;
    return (Math.exp((y - p.logSideOffset) * k) - p.linSideOffset) / p.linSideSlope;
  };
}

export function compileLog(to: 'log' | 'linear', channels: readonly [LogChannel, LogChannel, LogChannel]): Transform {
  const [r, g, b] = channels.map(to === 'log' ? toLog : toLinear) as [
    (x: number) => number,
    (x: number) => number,
    (x: number) => number,
  ];
  return (rgb) => {
    rgb[0] = r(rgb[0] as number);
    rgb[1] = g(rgb[1] as number);
    rgb[2] = b(rgb[2] as number);
  };
}
