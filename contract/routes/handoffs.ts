import { z } from 'zod';
import { handoffLine } from '../checks.ts';
import {
  cameBackAt,
  handedAnswer,
  handedLine,
  handoffCheck,
  handoffChoices,
  handoffOrder,
  handoffWish,
  holdings,
  lostDrive,
  returnedDrive,
} from '../handoffs.ts';
import { file, json, made, nothing, row } from './route.ts';

/** What can be handed on, what was, to whom, and what they hold. */
export const handoffRows = {
  /** Runs with finished outputs, and the relink sheet that leads back from them. */
  handoffs: row({
    method: 'GET',
    path: '/productions/:production/handoffs',
    who: 'assistant',
    answer: json(z.array(handoffLine)),
  }),
  relink: row({ method: 'GET', path: '/runs/:run/relink.:format', who: 'assistant', answer: file }),
  choices: row({
    method: 'GET',
    path: '/productions/:production/handoff-choices',
    who: 'assistant',
    answer: json(handoffChoices),
  }),
  check: row({
    method: 'POST',
    path: '/productions/:production/handoff-check',
    who: 'assistant',
    carries: 'lists',
    body: handoffWish,
    answer: json(handoffCheck),
  }),
  order: row({
    method: 'POST',
    path: '/productions/:production/handed',
    who: 'assistant',
    carries: 'lists',
    body: handoffOrder,
    answer: made(z.strictObject({ id: z.string() })),
  }),
  handed: row({
    method: 'GET',
    path: '/productions/:production/handed',
    who: 'assistant',
    answer: json(z.array(handedLine)),
  }),
  one: row({ method: 'GET', path: '/handed/:handoff', who: 'assistant', answer: json(handedAnswer) }),
  stop: row({ method: 'POST', path: '/handed/:handoff/stop', who: 'assistant', answer: nothing }),
  goOn: row({ method: 'POST', path: '/handed/:handoff/go-on', who: 'assistant', answer: nothing }),
  /** Holds the drive against its manifest, and looks for what was not sent. */
  verify: row({
    method: 'POST',
    path: '/handed/:handoff/verify',
    who: 'assistant',
    body: cameBackAt,
    answer: nothing,
  }),
  /** Says that they lost it, so that it is sent again; or that they have it after all. */
  lost: row({ method: 'POST', path: '/handed/:handoff/lost', who: 'assistant', body: lostDrive, answer: nothing }),
  /** Drives that are mounted and that hand-offs are on. */
  drives: row({
    method: 'GET',
    path: '/productions/:production/returned-drives',
    who: 'assistant',
    answer: json(z.array(returnedDrive)),
  }),
  /** One file of it, or of a folder of files all of them. */
  file: row({ method: 'GET', path: '/handed/:handoff/files/:place', who: 'assistant', answer: file }),
  /** All of it as one archive. */
  all: row({ method: 'GET', path: '/handed/:handoff/all', who: 'assistant', answer: file }),
  /** Forgets it, and that they hold it; nothing on a disk is touched. */
  forget: row({ method: 'DELETE', path: '/handed/:handoff', who: 'assistant', answer: nothing }),
  holdings: row({
    method: 'GET',
    path: '/productions/:production/holdings',
    who: 'assistant',
    answer: json(holdings),
  }),
};
