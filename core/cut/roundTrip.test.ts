import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import type { Cut, CutEvent } from './cut.ts';
import { readEdl } from './edl/read.ts';
import { edlCannotSay, writeEdl } from './edl/write.ts';
import { readOtio } from './otio/read.ts';
import { otioCannotSay, writeOtio } from './otio/write.ts';
import { begunAtTransition } from './order.ts';
import { framesShown, retimeOf } from './retime.ts';

const clips = [
  { reel: 'A001', clip: 'A001C003', file: '/shuttle/day 1/A001/A001C003.mov' },
  { reel: 'S009', clip: 'S009C001', file: null },
  { reel: null, clip: 'GULLS', file: '/shuttle/sound/gulls ü.wav' },
  { reel: 'A002_1123_LONG_REEL_NAME_OF_A_CARD_00001', clip: null, file: null },
] as const;

/** Rates, and whether they can be drop-frame. */
const rates = [
  [rational(24000, 1001), false],
  [rational(25), false],
  [rational(30000, 1001), true],
  [rational(60000, 1001), true],
] as const;

const speeds = [
  rational(1),
  rational(1),
  rational(1),
  rational(1, 2),
  rational(2),
  rational(1, 3),
  rational(7, 17),
  rational(-1),
  rational(-3, 2),
  rational(0),
];

const drawn = fc.record({
  clip: fc.integer({ min: 0, max: clips.length - 1 }),
  black: fc.integer({ min: 0, max: 9 }),
  length: fc.integer({ min: 2, max: 400 }),
  at: fc.integer({ min: 0, max: 2_000_000 }),
  gap: fc.constantFrom(0, 0, 0, 5, 100),
  speed: fc.integer({ min: 0, max: speeds.length - 1 }),
  transition: fc.constantFrom(null, null, null, 'dissolve' as const, 'wipe' as const),
  frames: fc.integer({ min: 1, max: 40 }),
  before: fc.integer({ min: 0, max: 1 }),
  comment: fc.constantFrom([], ['LIGHTS ON THE WATER']),
});

/** Random cuts of one picture track and one of sound. `over` lets transitions begin before the cut. */
const cuts = (over: boolean) =>
  fc
    .record({
      rate: fc.integer({ min: 0, max: rates.length - 1 }),
      drops: fc.boolean(),
      start: fc.constantFrom(0, 86_400, 900_000),
      pictures: fc.array(drawn, { minLength: 1, maxLength: 30 }),
      sound: fc.array(drawn, { maxLength: 10 }),
      marker: fc.boolean(),
    })
    .map(({ rate: index, drops, start, pictures, sound, marker }): Cut => {
      const [rate, canDrop] = rates[index] as (typeof rates)[number];
      const dropFrame = canDrop && drops;
      const lay = (all: typeof pictures, track: string): CutEvent[] => {
        let at = start;
        let before: CutEvent | null = null;
        return all.map((one, n) => {
          const gap = n === 0 ? 0 : one.gap;
          const from = at + gap;
          at = from + one.length;
          const black = one.black === 0;
          const retime = black ? null : retimeOf(speeds[one.speed] as (typeof speeds)[number]);
          const seamless = gap === 0 && before !== null && before.source.kind === 'media';
          const frames = Math.min(one.frames, one.length, seamless ? 40 : 40);
          const event: CutEvent = {
            number: '',
            line: null,
            tracks: [track],
            record: { from, to: at },
            recordLabels: null,
            source: {
              kind: black ? 'black' : 'media',
              ...(black ? { reel: null, clip: null, file: null } : (clips[one.clip] as (typeof clips)[number])),
              rate,
              dropFrame: black ? false : dropFrame,
              frames: black ? null : framesShown(one.at, one.length, retime, rational(1)),
              labels: null,
            },
            retime,
            transition: one.transition && {
              kind: one.transition,
              frames,
              before:
                over && seamless && before
                  ? Math.min(one.before * frames, (before.record.to - before.record.from) >> 1)
                  : 0,
              code: one.transition === 'wipe' ? 'W001' : null,
            },
            comments: black ? [] : [...one.comment],
          };
          before = event;
          return event;
        });
      };
      const events = [...lay(pictures, 'V1'), ...lay(sound, 'A1')];
      return {
        title: 'SALT LANTERN',
        rate: { rate, known: 'given', why: '' },
        dropFrame,
        start,
        tracks: [...new Set(events.flatMap(({ tracks }) => tracks))].map((id) => ({
          id,
          kind: id === 'V1' ? 'picture' : 'sound',
          name: '',
        })),
        events,
        markers: marker ? [{ at: start + 1, frames: 1, text: 'THE BELL', colour: 'red', track: 'V1' }] : [],
        comments: [],
      };
    });

/** What of a cut both forms say, apart from how it is counted and in which order. */
function essence({ title, dropFrame, start, events, rate, markers }: Cut, { drops = true, files = true } = {}) {
  return {
    title,
    dropFrame: drops && dropFrame,
    start,
    rate: rate.rate,
    markers: markers.map(({ at, text, colour }) => ({ at, text, colour })),
    events: events
      .map(({ record, tracks, source, retime, transition, comments }) => ({
        record,
        tracks: [...tracks].sort(),
        kind: source.kind,
        reel: source.reel,
        clip: source.clip,
        file: files ? source.file : null,
        frames: source.frames,
        dropFrame: drops && source.dropFrame,
        retime,
        transition,
        comments,
      }))
      .sort((a, b) =>
        `${a.tracks[0]}` < `${b.tracks[0]}`
          ? -1
          : `${a.tracks[0]}` > `${b.tracks[0]}`
            ? 1
            : a.record.from - b.record.from,
      ),
  };
}

describe('a cut that is written and read again', () => {
  it('is the same as an edit list of lines', () => {
    fc.assert(
      fc.property(cuts(false), (cut) => {
        const { cut: again, remarks } = unwrap(readEdl(writeEdl(cut), { given: cut.rate.rate }));
        expect(remarks).toEqual([]);
        expect(edlCannotSay(cut)).toEqual([]);
        expect(essence(again)).toEqual(essence(cut));
      }),
      { numRuns: 300 },
    );
  });

  it('is the same as OpenTimelineIO, transitions over cuts too', () => {
    fc.assert(
      fc.property(cuts(true), (cut) => {
        const { cut: again, remarks } = unwrap(readOtio(writeOtio(cut), { given: null }));
        expect(remarks).toEqual([]);
        expect(otioCannotSay(cut).length).toBe(cut.dropFrame ? 1 : 0);
        expect(essence(again, { drops: false })).toEqual(essence(cut, { drops: false }));
      }),
      { numRuns: 300 },
    );
  });

  it('begins a transition over a cut at its beginning in lines, and says so before', () => {
    fc.assert(
      fc.property(cuts(true), (cut) => {
        const over = cut.events.some(({ transition }) => (transition?.before ?? 0) > 0);
        expect(edlCannotSay(cut).some((one) => one.includes('transition over a cut'))).toBe(over);
        const { cut: again } = unwrap(readEdl(writeEdl(cut), { given: cut.rate.rate }));
        const begun = { ...cut, events: cut.events.map((event) => begunAtTransition(cut, event)) };
        const placed = (of: Cut) => essence(of).events.map(({ record, kind, clip }) => ({ record, kind, clip }));
        expect(placed(again)).toEqual(placed(begun));
      }),
      { numRuns: 200 },
    );
  });
});
