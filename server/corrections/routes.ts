import { clipIds } from '@relay/contract/clips';
import { correctionsRequest } from '@relay/contract/corrections';
import { correctionFields } from '@relay/core/corrections/fields';
import { Router } from 'express';
import { member } from '../clips/identityRoutes.ts';
import type { Context } from '../context.ts';
import { checked, idOf } from '../http.ts';
import { commonCorrections, sayCorrections, undoCorrections } from './rules.ts';

/** Corrections said of clips, rolls, groups and productions, what a selection shares, and undo. */
export function correctionRoutes({ db }: Context): Router {
  const router = Router();
  router.post('/productions/:id/corrections', async (request, response) => {
    const { to, fields, clear } = checked(correctionsRequest, request.body);
    response.json(await sayCorrections(db, idOf(request), to, fields, correctionFields.filter((field) => clear.includes(field)), member));
  });
  router.post('/productions/:id/corrections/common', async (request, response) => {
    response.json(await commonCorrections(db, idOf(request), checked(clipIds, request.body).clips));
  });
  router.post('/correction-changes/:id/undo', async (request, response) => {
    await undoCorrections(db, idOf(request));
    response.status(204).end();
  });
  return router;
}
