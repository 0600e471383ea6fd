import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rational } from '../time/rational.ts';
import { readCut } from './read.ts';

/** Lists that nobody meant: they may be refused or remarked on, but never throw. */
const lines = [
  'TITLE: SALT LANTERN',
  'FCM: DROP FRAME',
  '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00',
  '002  A001     V     C        01:00:02:00 01:00:02:00 10:00:02:00 10:00:02:00',
  '002  B001     AA/V  D    024 02:00:00:00 02:00:03:00 10:00:02:00 10:00:05:00',
  'M2   B001       -12.0       02:00:00:00',
  '* FROM CLIP NAME: A001C003',
  'AUD  3    4',
  'SPLIT:    AUDIO DELAY=  00:00:00:05',
  '* LOC: 10:00:01:00 RED     X',
];

const otio = JSON.stringify({
  OTIO_SCHEMA: 'Timeline.1',
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    children: [
      {
        OTIO_SCHEMA: 'Track.1',
        kind: 'Video',
        children: [
          {
            OTIO_SCHEMA: 'Clip.2',
            name: 'a',
            source_range: {
              start_time: { value: 10, rate: 24 },
              duration: { value: 100, rate: 24 },
            },
            effects: [{ OTIO_SCHEMA: 'LinearTimeWarp.1', time_scalar: 0.5 }],
          },
        ],
      },
    ],
  },
});

/** A text of which some places are something else. */
const spoiled = (text: string) =>
  fc
    .array(
      fc.record({
        at: fc.integer({ min: 0, max: text.length }),
        take: fc.integer({ min: 0, max: 12 }),
        put: fc.oneof(
          fc.string({ maxLength: 8 }),
          fc.constantFrom(
            'null',
            '-1',
            '1e308',
            '[]',
            '{}',
            ':',
            '99:99:99:99',
            '\u0000',
            '\r',
            '\t',
            '9'.repeat(400),
            'M2 ',
          ),
        ),
      }),
      { minLength: 1, maxLength: 8 },
    )
    .map((changes) => changes.reduce((now, { at, take, put }) => now.slice(0, at) + put + now.slice(at + take), text));

describe('lists that were spoiled', () => {
  it('are read or refused in words, whatever stands in them', () => {
    fc.assert(
      fc.property(
        fc.oneof(spoiled(lines.join('\n')), spoiled(otio), fc.string({ maxLength: 400 })),
        fc.constantFrom(null, rational(24), rational(30000, 1001)),
        (text, given) => {
          const found = readCut(text, { given });
          if (!found.ok) expect(found.problem.what.length).toBeGreaterThan(10);
          else
            for (const { record, source } of found.value.cut.events) {
              expect(record.to).toBeGreaterThanOrEqual(record.from);
              if (source.frames) expect(source.frames.to).toBeGreaterThanOrEqual(source.frames.from);
            }
        },
      ),
      { numRuns: 2_000 },
    );
  });

  it('may be a hundred thousand events long', () => {
    const event = (n: number): string => {
      const label = (frames: number): string =>
        [frames / 86_400, (frames / 1_440) % 60, (frames / 24) % 60, frames % 24]
          .map((part) => String(Math.floor(part)).padStart(2, '0'))
          .join(':');
      return `${n} A001 V C ${label(n * 10)} ${label(n * 10 + 10)} ${label(n * 10)} ${label(n * 10 + 10)}`;
    };
    const found = readCut(Array.from({ length: 100_000 }, (_, n) => event(n)).join('\n'), { given: rational(24) });
    expect(found.ok && found.value.cut.events.length).toBe(100_000);
    expect(found.ok && found.value.remarks).toEqual([]);
  });

  it('may lie in each other a thousand and a hundred thousand levels deep', () => {
    const deep = (levels: number): string =>
      '{"OTIO_SCHEMA":"Stack.1","children":['.repeat(levels) + otio + ']}'.repeat(levels);
    for (const levels of [1_000, 100_000]) {
      const found = readCut(deep(levels), { given: null });
      expect(found.ok ? found.value.remarks.map(({ what }) => what).join() : found.problem.what).toMatch(
        /deeper than 32|no clip|no JSON/i,
      );
    }
  });

  it('may hold lines of any length', () => {
    const found = readCut(`001 ${'A'.repeat(5_000_000)} V C 01:00:00:00 01:00:01:00 00:00:00:00 00:00:01:00`, {
      given: null,
    });
    expect(found.ok).toBe(false);
  });
});
