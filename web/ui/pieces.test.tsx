import type { ProductionAnswer } from '@relay/contract/site';
import type { LegState } from '@relay/contract/states';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { Refused } from '../api/client.ts';
import { problemOf } from './pieces.tsx';
import { ProofTable } from './proof.tsx';
import { StateMark } from './stateMark.tsx';
import { stations, Track } from './track.tsx';

const states: LegState[] = ['waiting', 'held', 'running', 'proving', 'proved', 'needs eyes', 'failed', 'stopped'];

describe('states', () => {
  it("each have a shape of their own, and are named for eyes or for the reader's voice", () => {
    const shapes = states.map(
      (state) => /<svg[^>]*>(.*)<\/svg>/.exec(renderToStaticMarkup(<StateMark state={state} />))?.[1],
    );
    expect(new Set(shapes).size).toBe(states.length);
    for (const state of states) {
      expect(renderToStaticMarkup(<StateMark state={state} />)).toContain(`<span>${state}</span>`);
      expect(renderToStaticMarkup(<StateMark state={state} word={false} />)).toContain(`aria-label="${state}"`);
    }
  });
});

describe('a proof', () => {
  it('shows what does not hold first, with a mark that is not colour alone', () => {
    const page = renderToStaticMarkup(
      <ProofTable
        proof={{
          verdict: 'needs eyes',
          reasons: [],
          comparisons: [
            { name: 'raster', planned: '960×540', found: '960×540', holds: true },
            { name: 'frames', planned: '45', found: '25', holds: false },
          ],
        }}
      />,
    );
    expect(page.indexOf('frames')).toBeLessThan(page.indexOf('raster'));
    expect(page).toContain('aria-label="does not hold"');
    expect(page).toContain('aria-label="holds"');
  });
});

describe('the track', () => {
  const counts = {
    rolls: 9,
    clips: 12,
    leftAside: 1,
    toDecide: 0,
    arriving: 0,
    groups: 5,
    logWithout: 0,
    recipes: 1,
    runs: 0,
    legsOpen: 0,
    outputs: 0,
    needEyes: 0,
    failed: 0,
    handoffs: 0,
  };
  const draw = (rest: Partial<ProductionAnswer['counts']>): string =>
    renderToStaticMarkup(
      <MemoryRouter>
        <Track
          production={{
            id: 'p',
            name: 'Salt Lantern',
            createdAt: '',
            rate: null,
            copyRule: { copies: 2, stores: 2 },
            counts: { ...counts, ...rest },
          }}
        />
      </MemoryRouter>,
    );
  /** The station under which the baton lies. */
  const baton = (page: string): string | undefined =>
    stations.map((station) => station.name)[
      page
        .split('<li')
        .slice(1)
        .findIndex((part) => part.includes('bg-clay'))
    ];

  it('lays the baton where most work waits: clips to run, then the run, then what needs eyes', () => {
    expect(baton(draw({}))).toBe('Clips');
    expect(baton(draw({ runs: 1, legsOpen: 9 }))).toBe('Runs');
    expect(baton(draw({ runs: 1, outputs: 24, needEyes: 2 }))).toBe('Checks');
    expect(baton(draw({ runs: 1, arriving: 2, toDecide: 1 }))).toBe('Arrivals');
    expect(baton(draw({ runs: 1, toDecide: 3, needEyes: 1 }))).toBe('Clips');
    expect(baton(draw({ runs: 1, outputs: 24 }))).toBeUndefined();
  });

  it('says in words what waits at each station', () => {
    const page = draw({ runs: 1, legsOpen: 9, needEyes: 2 });
    for (const words of ['9 rolls', '9 to go', '2 to look at']) expect(page).toContain(words);
  });
});

it("errors keep the server's words, and others get a remedy", () => {
  const problem = { what: 'The store is full', remedy: 'Free space' };
  expect(problemOf(new Refused(problem, 507))).toEqual(problem);
  expect(problemOf(new TypeError('x is undefined')).remedy).toBe('Load the page again');
});
