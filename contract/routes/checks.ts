import { checksAnswer, outputAnswer } from '../checks.ts';
import { atSeconds } from './clips.ts';
import { file, json, nothing, row } from './route.ts';

/** Finished outputs beside their originals. */
export const checkRows = {
  outputs: row({
    method: 'GET',
    path: '/productions/:production/outputs',
    who: 'assistant',
    answer: json(checksAnswer),
  }),
  output: row({ method: 'GET', path: '/outputs/:output', who: 'assistant', answer: json(outputAnswer) }),
  /** Forgets an output; the file stays where it lies. */
  remove: row({ method: 'DELETE', path: '/outputs/:output', who: 'assistant', answer: nothing }),
  picture: row({ method: 'GET', path: '/outputs/:output/picture', who: 'assistant', query: atSeconds, answer: file }),
};
