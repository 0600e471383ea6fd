import { expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { seenAspect } from './fields.ts';

it('a picture is seen at what was said of its pixels, over what its file says, widened by the lens', () => {
  expect(seenAspect(rational(4, 3), {})).toEqual(rational(4, 3));
  expect(seenAspect(rational(4, 3), { pixelAspect: rational(1), squeeze: rational(2) })).toEqual(rational(2));
  expect(seenAspect(rational(1), { pixelAspect: null, squeeze: rational(4, 3) })).toEqual(rational(4, 3));
});
