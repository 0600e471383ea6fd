import { z } from 'zod';
import {
  folderBelow,
  foldersAnswer,
  newProduction,
  newStore,
  productionAnswer,
  productionChange,
  rootAnswer,
  settledAnswer,
  siteAnswer,
  siteChange,
  storeAnswer,
  storeChange,
} from '../site.ts';
import { file, json, made, nothing, row } from './route.ts';

/** Productions, stores, and what the wire at the bottom of every page says. */
export const siteRows = {
  productions: row({
    method: 'GET',
    path: '/productions',
    who: 'assistant',
    answer: json(z.array(productionAnswer)),
  }),
  addProduction: row({
    method: 'POST',
    path: '/productions',
    who: 'assistant',
    body: newProduction,
    answer: made(productionAnswer),
  }),
  production: row({
    method: 'GET',
    path: '/productions/:production',
    who: 'assistant',
    answer: json(productionAnswer),
  }),
  changeProduction: row({
    method: 'POST',
    path: '/productions/:production',
    who: 'assistant',
    body: productionChange,
    answer: json(productionAnswer),
  }),
  /** Takes it out of the records; nothing on a disk is touched. */
  removeProduction: row({ method: 'DELETE', path: '/productions/:production', who: 'assistant', answer: nothing }),
  stores: row({ method: 'GET', path: '/stores', who: 'assistant', answer: json(z.array(storeAnswer)) }),
  /** Folders, drives and cards of this machine that stores may be added from. */
  roots: row({ method: 'GET', path: '/roots', who: 'assistant', answer: json(z.array(rootAnswer)) }),
  rootFolders: row({
    method: 'GET',
    path: '/roots/folders',
    who: 'assistant',
    query: folderBelow,
    answer: json(foldersAnswer),
  }),
  /** Has a folder lie in a store: in the one that holds it, or in a new one. */
  addStore: row({ method: 'POST', path: '/stores', who: 'assistant', body: newStore, answer: json(settledAnswer) }),
  forgetStore: row({ method: 'DELETE', path: '/stores/:store', who: 'assistant', answer: nothing }),
  changeStore: row({
    method: 'POST',
    path: '/stores/:store',
    who: 'assistant',
    body: storeChange,
    answer: nothing,
  }),
  /** Says that a store which is away lies in another folder now: one that carries its mark. */
  moveStore: row({ method: 'POST', path: '/stores/:store/lies', who: 'assistant', body: folderBelow, answer: nothing }),
  moveStoreBack: row({ method: 'POST', path: '/stores/:store/lies-back', who: 'assistant', answer: nothing }),
  folders: row({
    method: 'GET',
    path: '/stores/:store/folders',
    who: 'assistant',
    query: z.object({ folder: z.string().max(4000).default('') }),
    answer: json(foldersAnswer),
  }),
  site: row({ method: 'GET', path: '/site', who: 'assistant', answer: json(siteAnswer) }),
  changeSite: row({ method: 'POST', path: '/site', who: 'assistant', body: siteChange, answer: nothing }),
  /** Server-sent events, each a `LiveMessage`. */
  live: row({ method: 'GET', path: '/live', who: 'assistant', answer: file }),
};
