import type { Curve } from '../curve.ts';

/** No curve at all: the signal is the scene's light. */
export const linear: Curve = {
  id: 'linear',
  name: 'Linear',
  light: 'scene',
  toLinear: (signal) => signal,
  fromLinear: (light) => light,
  source: 'by definition',
  confirmed: true,
};
