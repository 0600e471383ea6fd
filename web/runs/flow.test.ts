import type { LegLine } from '@relay/contract/runs';
import { expect, it } from 'vitest';
import { flowOf } from './flow.ts';

const at = (seconds: number): string => new Date(1_800_000_000_000 + seconds * 1000).toISOString();
const leg = (rest: Partial<LegLine>): LegLine =>
  ({
    state: 'proved',
    seconds: 10,
    framesDone: 0,
    framesTotal: 240,
    startedAt: at(0),
    endedAt: at(10),
    worker: 'vm/12/abc',
    ...rest,
  }) as LegLine;
const now = Date.parse(at(20));
const total = (values: readonly number[], step: number): number => values.reduce((a, b) => a + b, 0) * step;

it('spreads what was made over the time it took: nothing is lost, nothing made twice', () => {
  const { times, speed, busy } = flowOf([leg({}), leg({ startedAt: at(5), endedAt: at(15), seconds: 20 })], now, 30);
  const step = ((times[1] as number) - (times[0] as number)) / 1000;
  expect(total(speed, step)).toBeCloseTo(30, 6);
  expect(busy).toHaveLength(1);
  expect(total(busy[0]?.legs ?? [], step)).toBeCloseTo(20, 6);
  expect(Math.max(...(busy[0]?.legs ?? []))).toBeCloseTo(2, 6);
});

it('counts a leg under way as far as it has come, failed ones as work without a result, and is empty before anything began', () => {
  const { speed, times } = flowOf(
    [leg({ state: 'running', endedAt: null, framesDone: 120 }), leg({ state: 'failed' })],
    now,
    20,
  );
  expect(total(speed, ((times[1] as number) - (times[0] as number)) / 1000)).toBeCloseTo(5, 6);
  expect(flowOf([leg({ startedAt: null, endedAt: null, state: 'waiting' })], now)).toEqual({
    times: [],
    speed: [],
    busy: [],
  });
});
