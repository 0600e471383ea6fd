import { expect, it } from 'vitest';
import { readEdl } from '../cut/edl/read.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { answerKey, type CutAnswer } from './answers.ts';
import { rehearsed } from './rehearsal.ts';
import type { CutOriginal } from './target.ts';

const original = (path: string, rate = rational(24)): CutOriginal => ({
  path,
  reels: [],
  timecode: null,
  rate,
  frames: 500,
});
const originals = [original('D004/C0001.mp4'), original('D005/C0001.mp4', rational(48)), original('D006/C0001.mp4')];
const cut = (...ins: string[]) =>
  unwrap(
    readEdl(
      ins
        .map(
          (at, n) =>
            `${n + 1} AX V C 00:00:${at}:00 00:00:${at}:12 01:00:0${n}:00 01:00:0${n}:12\n* FROM CLIP NAME: C0001`,
        )
        .join('\n'),
      { given: rational(24) },
    ),
  ).cut;
const said = (cutIn: number, to: number, answer: Partial<CutAnswer>): CutAnswer => ({
  key: answerKey(cut('01').events[0] as never),
  source: { from: cutIn, to },
  original: 0,
  at: cutIn,
  ...answer,
});
const short = (list: ReturnType<typeof cut>, answers: CutAnswer[]): string[] =>
  rehearsed(list, originals, [], answers).matches.map(
    (match) =>
      `${match?.grade} ${match?.original ?? '-'} ${match?.frames ? `${match.frames.from}-${match.frames.to}` : '-'}`,
  );

it('what a person said of an event counts for it, and in later versions where it shows some of the same', () => {
  expect(short(cut('01'), [])).toEqual(['several - -']);
  expect(short(cut('01'), [said(24, 36, {})])).toEqual(['said 0 24-36']);
  // Moved within the original by four frames, at twice the rate.
  expect(short(cut('01'), [said(20, 30, { original: 1, at: 100 })])).toEqual(['said 1 108-132']);
});

it('of one source that two answers are about, each is taken where it was given', () => {
  const both = [said(24, 36, {}), said(240, 252, { original: 1, at: 0 })];
  expect(short(cut('01', '10', '05'), both)).toEqual(['said 0 24-36', 'said 1 0-24', 'several - -']);
  // Where all agree, it is the source that was answered.
  expect(short(cut('05'), [said(24, 36, {})])).toEqual(['said 0 120-132']);
});

it('an answer about an original that is gone says nothing', () => {
  expect(short(cut('01'), [said(24, 36, { original: null })])).toEqual(['several - -']);
});
