import { z } from 'zod';
import {
  bayAnswer,
  bayMove,
  cardAnswer,
  cardQuery,
  leftAsideLine,
  newReading,
  newRoll,
  readingAnswer,
  rollAnswer,
  rollLine,
} from '../arrivals.ts';
import { reportAnswer } from '../clips.ts';
import { file, json, made, nothing, row } from './route.ts';

const day = z.object({ day: z.string().max(60).optional() });

/** Folders read, cards looked at and brought in, rolls and their custody, the day report. */
export const arrivalRows = {
  readings: row({
    method: 'GET',
    path: '/productions/:production/readings',
    who: 'assistant',
    answer: json(z.array(readingAnswer)),
  }),
  read: row({
    method: 'POST',
    path: '/productions/:production/readings',
    who: 'assistant',
    body: newReading,
    answer: made(readingAnswer),
  }),
  /** Forgets a folder that was read, and its clips; nothing on a disk is touched. */
  removeReading: row({ method: 'DELETE', path: '/readings/:reading', who: 'assistant', answer: nothing }),
  leftAside: row({
    method: 'GET',
    path: '/productions/:production/left-aside',
    who: 'assistant',
    answer: json(z.array(leftAsideLine)),
  }),
  bay: row({ method: 'GET', path: '/bay', who: 'assistant', answer: json(bayAnswer) }),
  moveCard: row({ method: 'POST', path: '/bay', who: 'assistant', body: bayMove, answer: json(bayAnswer) }),
  card: row({
    method: 'GET',
    path: '/productions/:production/card',
    who: 'assistant',
    query: cardQuery,
    answer: json(cardAnswer),
  }),
  rolls: row({
    method: 'GET',
    path: '/productions/:production/rolls',
    who: 'assistant',
    answer: json(z.array(rollLine)),
  }),
  bringIn: row({
    method: 'POST',
    path: '/productions/:production/rolls',
    who: 'assistant',
    body: newRoll,
    answer: made(rollAnswer),
  }),
  roll: row({ method: 'GET', path: '/rolls/:roll', who: 'assistant', answer: json(rollAnswer) }),
  pause: row({ method: 'POST', path: '/rolls/:roll/pause', who: 'assistant', answer: nothing }),
  stop: row({ method: 'POST', path: '/rolls/:roll/stop', who: 'assistant', answer: nothing }),
  resume: row({ method: 'POST', path: '/rolls/:roll/resume', who: 'assistant', answer: nothing }),
  verify: row({ method: 'POST', path: '/rolls/:roll/verify', who: 'assistant', answer: nothing }),
  report: row({
    method: 'GET',
    path: '/productions/:production/report',
    who: 'assistant',
    query: day,
    answer: json(reportAnswer),
  }),
  reportCsv: row({
    method: 'GET',
    path: '/productions/:production/report.csv',
    who: 'assistant',
    query: day,
    answer: file,
  }),
};
