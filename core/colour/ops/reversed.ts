import { fail, ok, type Result } from '../../result.ts';
import { apply, inverse } from '../matrix.ts';
import type { ColourOp } from './op.ts';

function reversedOne(op: ColourOp): Result<ColourOp> {
  switch (op.op) {
    case 'matrix': {
      try {
        const matrix = inverse(op.matrix);
        const [x, y, z] = apply(matrix, op.offset);
        return ok({ op: 'matrix', matrix, offset: [-x, -y, -z] });
      } catch {
        return fail('A matrix in it has no inverse', 'Use it forwards');
      }
    }
    case 'curve':
      return ok({ ...op, to: op.to === 'linear' ? 'signal' : 'linear' });
    case 'range': {
      if (op.scale === 0) return fail('A range in it makes everything one value', 'Use it forwards');
      // What was held back is gone; the way back is held within what could have come in.
      const back = (bound: number | null): number | null => (bound === null ? null : (bound - op.offset) / op.scale);
      const bounds = op.scale > 0 ? [back(op.min), back(op.max)] : [back(op.max), back(op.min)];
      return ok({
        op: 'range',
        scale: 1 / op.scale,
        offset: -op.offset / op.scale,
        min: bounds[0] ?? null,
        max: bounds[1] ?? null,
      });
    }
    case 'log':
      return ok({ ...op, to: op.to === 'log' ? 'linear' : 'log' });
    case 'exponent':
      return ok({ ...op, reverse: !op.reverse });
    case 'cdl':
      if (op.cdl.slope.some((value) => value === 0) || op.cdl.saturation === 0)
        return fail('A CDL with a slope or saturation of 0 cannot be undone', 'Use it forwards');
      return ok({ ...op, reverse: !op.reverse });
    case 'lut1d':
    case 'lut3d':
      return ok({ ...op, reverse: !op.reverse });
    case 'rendering':
      return fail('A rendering for a display cannot be undone', "Start from the camera's own state instead");
  }
}

/** The way back: every step undone, in the opposite order. */
export function reversed(ops: readonly ColourOp[]): Result<ColourOp[]> {
  const back: ColourOp[] = [];
  for (const op of [...ops].reverse()) {
    const undone = reversedOne(op);
    if (!undone.ok) return undone;
    back.push(undone.value);
  }
  return ok(back);
}
