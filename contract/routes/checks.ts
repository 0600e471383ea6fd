import { checksAnswer, lookOrder, madeAgain, outputAnswer } from '../checks.ts';
import { atSeconds } from './clips.ts';
import { file, json, made, nothing, row } from './route.ts';

/** Finished outputs beside their originals. */
export const checkRows = {
  outputs: row({
    method: 'GET',
    path: '/productions/:production/outputs',
    who: 'assistant',
    answer: json(checksAnswer),
  }),
  output: row({ method: 'GET', path: '/outputs/:output', who: 'assistant', answer: json(outputAnswer) }),
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
  picture: row({ method: 'GET', path: '/outputs/:output/picture', who: 'assistant', query: atSeconds, answer: file }),
};
