import { fail, ok, type Result } from '../result.ts';
import { between } from './gamut.ts';
import type { ColourOp } from './ops/op.ts';
import { displayOf } from './rendering/display.ts';
import type { ColourState } from './states.ts';

export const renderings = ['estuary'] as const;
export type Rendering = (typeof renderings)[number];

const noOffset = [0, 0, 0] as const;

/**
 * From one state to another. Colorimetric, and nothing else: to light by the one curve, to the other gamut by one
 * matrix, to signal by the other curve; nothing is clipped. A *rendering* may be named where scene light is to be shown
 * on a display; the display's own curve then codes what it shows.
 */
export function conversion(from: ColourState, to: ColourState, rendering: Rendering | null = null): Result<ColourOp[]> {
  const light: ColourOp[] = from.curve.id === 'linear' ? [] : [{ op: 'curve', curve: from.curve.id, to: 'linear' }];
  if (rendering) {
    const display = displayOf(to);
    if (!display)
      return fail(
        `${to.name} is not looked at on a display`,
        'Name a rendering only towards a display, such as bt709, srgb or pq',
      );
    if (from.curve.light !== 'scene') return fail(`${from.name} is display light already`, 'Leave the rendering out');
    return ok([
      ...light,
      { op: 'rendering', from: from.gamut.id, to: to.id },
      { op: 'curve', curve: display.curve.id, to: 'signal' },
    ]);
  }
  if (from.id === to.id) return ok([]);
  const matrix: ColourOp[] =
    from.gamut.id === to.gamut.id ? [] : [{ op: 'matrix', matrix: between(from.gamut, to.gamut), offset: noOffset }];
  const signal: ColourOp[] = to.curve.id === 'linear' ? [] : [{ op: 'curve', curve: to.curve.id, to: 'signal' }];
  if (matrix.length === 0 && from.curve.id === to.curve.id) return ok([]);
  return ok([...light, ...matrix, ...signal]);
}
