import { expect, it } from 'vitest';
import { seeded } from '../bake/seeded.ts';
import { pqFromNits, pqToNits } from './pq.ts';
import { nitsOf, signalOf } from './pqTables.ts';

const random = seeded(7);
const signals = [0, 1e-9, 0.01, 0.0599, 0.06, 0.0601, 0.5, 1, 1.0999, 1.1, 1.3, -0.2].concat(
  Array.from({ length: 200_000 }, () => random() * 1.12),
);

it('light of PQ signals is the formula’s, within one part in a thousand million', () => {
  const worst = signals.reduce((most, signal) => {
    const light = pqToNits(signal);
    return Math.max(most, Math.abs(nitsOf(signal) - light) / Math.max(light, 1e-3));
  }, 0);
  expect(worst).toBeLessThan(1e-9);
});

it('signals of light are the formula’s, within 1e-9', () => {
  const worst = signals.reduce((most, signal) => {
    const light = pqToNits(signal);
    return Math.max(most, Math.abs(signalOf(light) - pqFromNits(light)));
  }, 0);
  expect(worst).toBeLessThan(1e-9);
  expect(signalOf(-3)).toBe(pqFromNits(-3));
  expect(signalOf(30_000)).toBe(pqFromNits(30_000));
});
