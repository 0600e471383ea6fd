import { describe, expect, it } from 'vitest';
import { filterWords } from './searchText.ts';

describe('a filter as it is typed', () => {
  it('parts words that must be found from those that must not', () => {
    expect(filterWords(' A001  -prores - 25.000 ')).toEqual({
      wanted: ['a001', '25.000'],
      unwanted: ['prores'],
      runs: [],
    });
  });

  it('takes what is asked of runs from brackets, denied behind a minus', () => {
    expect(filterWords('[not run] log -[Changed since]')).toEqual({
      wanted: ['log'],
      unwanted: [],
      runs: [
        { kind: 'not run', denied: false },
        { kind: 'changed since', denied: true },
      ],
    });
    expect(filterWords('[run with Finish and cut]').runs).toEqual([
      { kind: 'run with', recipe: 'Finish and cut', denied: false },
    ]);
  });

  it('leaves brackets that hold anything else as the words that they are, half-typed ones too', () => {
    for (const typed of ['[not', '[not ru]', '[run with ]', 'a]b', '[]'])
      expect([typed, filterWords(typed).runs]).toEqual([typed, []]);
    expect(filterWords('[not ru]').wanted).toEqual(['[not', 'ru]']);
  });

  it('is read in no time, whatever is typed', () => {
    const began = performance.now();
    filterWords('['.repeat(100_000));
    filterWords(`[run with ${' '.repeat(100_000)}]`);
    expect(performance.now() - began).toBeLessThan(500);
  });
});
