import { curves } from '../curves.ts';
import { between } from '../gamut.ts';
import { gamuts } from '../gamuts.ts';
import { bt2020 } from '../gamuts/bt2020.ts';
import { compile1d } from '../lut/eval1d.ts';
import { compile3d } from '../lut/eval3d.ts';
import { compileInverse1d } from '../lut/inverse1d.ts';
import { compileInverse3d } from '../lut/inverse3d.ts';
import { displayOf } from '../rendering/display.ts';
import { compileEstuary } from '../rendering/estuary.ts';
import { colourState } from '../states.ts';
import { unwrap } from '../../result.ts';
import { compileCdl } from './cdl.ts';
import { compileExponent } from './exponent.ts';
import { compileLog } from './log.ts';
import type { ColourOp, Transform } from './op.ts';

function one(op: ColourOp): Transform {
  switch (op.op) {
    case 'matrix': {
      const [m, o] = [op.matrix, op.offset];
      return (rgb) => {
        const r = rgb[0] as number;
        const g = rgb[1] as number;
        const b = rgb[2] as number;
        rgb[0] = m[0] * r + m[1] * g + m[2] * b + o[0];
        rgb[1] = m[3] * r + m[4] * g + m[5] * b + o[1];
        rgb[2] = m[6] * r + m[7] * g + m[8] * b + o[2];
      };
    }
    case 'curve': {
      const curve = curves.find((known) => known.id === op.curve);
      if (!curve) throw new RangeError(`${op.curve} is no curve`);
      const f = op.to === 'linear' ? curve.toLinear : curve.fromLinear;
      return (rgb) => {
        rgb[0] = f(rgb[0] as number);
        rgb[1] = f(rgb[1] as number);
        rgb[2] = f(rgb[2] as number);
      };
    }
    case 'range': {
      const { scale, offset, min, max } = op;
      return (rgb) => {
        for (let c = 0; c < 3; c += 1) {
          let x = (rgb[c] as number) * scale + offset;
          if (min !== null && !(x > min)) x = min;
          if (max !== null && x > max) x = max;
          rgb[c] = x;
        }
      };
    }
    case 'log':
      return compileLog(op.to, op.channels);
    case 'exponent':
      return compileExponent(op.style, op.reverse, op.exponent, op.offset);
    case 'cdl':
      return compileCdl(op.cdl, op.reverse, op.clamp);
    case 'lut1d':
      return op.reverse ? compileInverse1d(op.lut).transform : compile1d(op.lut);
    case 'lut3d':
      return op.reverse ? compileInverse3d(op.lut).transform : compile3d(op.lut, op.interpolation);
    case 'rendering': {
      const from = gamuts.find((gamut) => gamut.id === op.from);
      const to = unwrap(colourState(op.to));
      const display = displayOf(to);
      if (!from || !display) throw new RangeError(`${op.to} is not looked at on a display`);
      const estuary = compileEstuary(between(from, bt2020), between(bt2020, to.gamut), display.tone);
      const { white, systemGamma } = display;
      return (rgb) => {
        estuary(rgb);
        if (systemGamma !== null) {
          const y = 0.2627 * (rgb[0] as number) + 0.678 * (rgb[1] as number) + 0.0593 * (rgb[2] as number);
          const k = y > 0 ? y ** ((1 - systemGamma) / systemGamma) : 0;
          for (let c = 0; c < 3; c += 1) rgb[c] = (rgb[c] as number) * k;
        }
        for (let c = 0; c < 3; c += 1) rgb[c] = (rgb[c] as number) * white;
      };
    }
  }
}

/**
 * All steps in one: three numbers in, three numbers out, in place. Makes tables ready, so compile once and use often.
 */
export function compile(ops: readonly ColourOp[]): Transform {
  const steps = ops.map(one);
  return (rgb) => {
    for (const step of steps) step(rgb);
  };
}

/** One triplet through steps; for single values. */
export function evaluate(transform: Transform, rgb: readonly [number, number, number]): [number, number, number] {
  const work = Float64Array.from(rgb);
  transform(work);
  return [work[0] as number, work[1] as number, work[2] as number];
}
