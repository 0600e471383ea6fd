import {
  against,
  checksAnswer,
  comparison,
  lookOrder,
  madeAgain,
  madeOfClip,
  measuringAnswer,
  measureOrder,
  measureOrdered,
  outputAnswer,
  pictureQuery,
  playedQuery,
  sizesAnswer,
  sizesBy,
  stillQuery,
} from '../checks.ts';
import { checkRule, checkSheet, contactSheet } from '../checkSheet.ts';
import { z } from 'zod';
import { file, json, made, nothing, row } from './route.ts';

/** Finished outputs beside their originals. */
export const checkRows = {
  outputs: row({
    method: 'GET',
    path: '/productions/:production/outputs',
    who: 'assistant',
    answer: json(checksAnswer),
  }),
  /** How large originals are, and what was made of them. */
  sizes: row({
    method: 'GET',
    path: '/productions/:production/sizes',
    who: 'assistant',
    query: z.object({ by: z.enum(sizesBy).default('deliverable') }),
    answer: json(sizesAnswer),
  }),
  output: row({ method: 'GET', path: '/outputs/:output', who: 'assistant', answer: json(outputAnswer) }),
  /** What was made of a clip, the newest first. */
  ofClip: row({ method: 'GET', path: '/clips/:clip/outputs', who: 'assistant', answer: json(madeOfClip) }),
  /** The file itself: to be kept, or opened by whatever opens it; by ranges. */
  file: row({
    method: 'GET',
    path: '/outputs/:output/file',
    who: 'assistant',
    query: z.object({ keep: z.stringbool().default(true) }),
    answer: file,
  }),
  /** Says of an output that it was looked at: accepted, or sent back. */
  look: row({
    method: 'POST',
    path: '/outputs/:output/look',
    who: 'assistant',
    body: lookOrder,
    answer: nothing,
  }),
  /** Makes its clip again by its run's recipe, as it is corrected now. */
  again: row({ method: 'POST', path: '/outputs/:output/again', who: 'assistant', answer: made(madeAgain) }),
  /** Forgets an output; the file stays where it lies. */
  remove: row({ method: 'DELETE', path: '/outputs/:output', who: 'assistant', answer: nothing }),
  /** How an output and what it is held against lie beside each other. */
  comparison: row({
    method: 'GET',
    path: '/outputs/:output/comparison',
    who: 'assistant',
    query: z.object({ against }),
    answer: json(comparison),
  }),
  /** Both in one picture, as they are played. */
  played: row({ method: 'GET', path: '/outputs/:output/played', who: 'assistant', query: playedQuery, answer: file }),
  /** One of them at a frame: raw planes, with their size and matrix in the answer's head. */
  /** What was measured along it. */
  measuring: row({
    method: 'GET',
    path: '/outputs/:output/measuring',
    who: 'assistant',
    answer: json(measuringAnswer),
  }),
  measure: row({
    method: 'POST',
    path: '/outputs/:output/measuring',
    who: 'assistant',
    body: measureOrder,
    answer: nothing,
  }),
  /** Gives up what waits or is under way; what is done is forgotten. */
  dropMeasuring: row({ method: 'DELETE', path: '/outputs/:output/measuring', who: 'assistant', answer: nothing }),
  measuredCsv: row({ method: 'GET', path: '/outputs/:output/measured.csv', who: 'assistant', answer: file }),
  /** Measures what a run made that is not measured yet. */
  measureRun: row({
    method: 'POST',
    path: '/runs/:run/measuring',
    who: 'assistant',
    body: measureOrder,
    answer: made(measureOrdered),
  }),
  /** What of a run is to be looked at, and what was said of it. */
  sheet: row({ method: 'GET', path: '/runs/:run/check-sheet', who: 'assistant', answer: json(checkSheet) }),
  sheetRule: row({
    method: 'PUT',
    path: '/runs/:run/check-sheet/rule',
    who: 'assistant',
    body: checkRule,
    answer: nothing,
  }),
  /** A run's clips, a picture of each. */
  contact: row({
    method: 'GET',
    path: '/runs/:run/contact-sheet',
    who: 'assistant',
    query: z.object({ deliverable: z.string().max(200).optional() }),
    answer: json(contactSheet),
  }),
  /** A frame as a small picture: JPEG. */
  picture: row({
    method: 'GET',
    path: '/outputs/:output/picture',
    who: 'assistant',
    query: pictureQuery,
    answer: file,
  }),
  still: row({ method: 'GET', path: '/outputs/:output/still', who: 'assistant', query: stillQuery, answer: file }),
};
