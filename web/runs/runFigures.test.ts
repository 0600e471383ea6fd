import type { LegLine, RunAnswer } from '@relay/contract/runs';
import { stretches } from '@relay/core/size/lanes';
import { describe, expect, it } from 'vitest';
import { placeBeside, runFigures, sayReady, sayWanted, timed } from './runFigures.ts';

const zero = 1_800_000_000_000;
const at = (seconds: number): string => new Date(zero + seconds * 1000).toISOString();
const leg = (id: string, rest: Partial<LegLine> = {}): LegLine =>
  ({
    id,
    wave: 1,
    state: 'waiting',
    seconds: 10,
    samples: 100,
    framesDone: 0,
    framesTotal: 240,
    startedAt: null,
    endedAt: null,
    outputs: [],
    ...rest,
  }) as unknown as LegLine;
const run = (legLines: LegLine[], rest: Partial<RunAnswer> = {}): RunAnswer =>
  ({ createdAt: at(0), endedAt: null, notBefore: null, legLines, ...rest }) as RunAnswer;
const done = (id: string, from: number, to: number, state: LegLine['state'] = 'proved'): LegLine =>
  leg(id, {
    state,
    startedAt: at(from),
    endedAt: at(to),
    framesDone: 240,
    outputs: [{ sizeBytes: 5 }] as LegLine['outputs'],
  });
const figured = (one: RunAnswer, now: number) => {
  const plan = stretches(one.legLines.map(timed), zero + now * 1000, 1, []);
  return { plan, figures: runFigures(one, plan, zero + now * 1000) };
};

describe('the figures of a run', () => {
  it('are those of its clock once it has ended: what it took, how fast it was, what is to be looked at', () => {
    const { figures } = figured(
      run([done('a', 5, 15), done('b', 15, 25, 'needs eyes'), done('c', 15, 20, 'failed')], { endedAt: at(25) }),
      900,
    );
    expect(figures).toMatchObject({ open: false, spent: 25, made: 3, readyAt: zero + 25_000 });
    // Twenty seconds of material in twenty-five: what failed made none.
    expect(figures.speed).toBeCloseTo(0.8, 6);
    expect(figures.lookAt.map(({ id }) => id)).toEqual(['b', 'c']);
    expect(figures.count('proved', 'failed')).toBe(2);
  });

  it('go on while legs are under way, which count as far as they have come', () => {
    const half = leg('b', { state: 'running', startedAt: at(10), framesDone: 120 });
    const { figures, plan } = figured(run([done('a', 0, 10), half, leg('c')]), 20);
    expect(figures).toMatchObject({ open: true, spent: 20, from: zero });
    expect(figures.speed).toBeCloseTo(15 / 20, 6);
    expect(figures.readyAt).toBe(plan.readyAt);
    expect(figures.until).toBeGreaterThan(plan.readyAt as number);
  });

  it('say nothing of speed before anything was made', () => {
    expect(figured(run([leg('a')]), 20).figures.speed).toBeNull();
  });

  it('say why the end is not known, and when a run begins that waits for its hour', () => {
    const say = (one: RunAnswer, now: number): string => {
      const { figures } = figured(one, now);
      return sayReady(one, figures, zero + now * 1000);
    };
    expect(say(run([leg('a')]), 1)).toBe('told when the first leg is on its way');
    expect(say(run([leg('a', { state: 'held' })]), 1)).toBe('1 leg held');
    expect(say(run([leg('a')], { notBefore: at(3600) }), 1)).toMatch(/^begins \d\d:\d\d/);
    expect(say(run([done('a', 0, 60)], { endedAt: at(60) }), 900)).toMatch(/^after 1 min/);
    // Of its last leg the page hears a moment before it reads when the run ended.
    expect(say(run([done('a', 0, 60)]), 61)).toBe('the last leg has ended');
    expect(figured(run([done('a', 0, 60)]), 61).figures.open).toBe(true);
  });

  it('hold the likely end against the hour that was asked for', () => {
    expect(sayWanted(zero, null)).toBe('not known yet');
    expect(sayWanted(zero + 600_000, zero)).toMatch(/to spare$/);
    expect(sayWanted(zero, zero + 600_000)).toMatch(/late$/);
  });
});

describe('a leg that waits', () => {
  const legs = [
    leg('under way', { state: 'running' }),
    leg('a'),
    leg('b', { state: 'held' }),
    leg('c'),
    leg('other wave', { wave: 2 }),
  ];
  const move = (id: string, by: -1 | 1) => placeBeside(legs, legs.find((one) => one.id === id) as LegLine, by);

  it('moves up before the one above, down before the one after the next, and to the end', () => {
    expect([move('b', -1), move('a', 1), move('b', 1)]).toEqual(['a', 'c', null]);
  });

  it('does not move past the ends of its wave, nor does what is under way', () => {
    expect([move('a', -1), move('c', 1), move('under way', 1)]).toEqual([undefined, undefined, undefined]);
  });
});
