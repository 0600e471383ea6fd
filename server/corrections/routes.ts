import { clipIds } from '@relay/contract/clips';
import { correctionsRequest } from '@relay/contract/corrections';
import { correctionFields } from '@relay/core/corrections/fields';
import { Router } from 'express';
import { z } from 'zod';
import { member } from '../clips/decisions.ts';
import type { Context } from '../context.ts';
import { checked, idOf } from '../http.ts';
import { sendRepaired } from './repaired.ts';
import { commonCorrections } from './rules.ts';
import type { correctionTasks } from './deskTasks.ts';

const strength = z.coerce
  .number()
  .pipe(z.union([z.literal(1), z.literal(2), z.literal(3)]))
  .optional();
const repairQuery = z.object({
  denoise: strength,
  stabilise: strength,
  from: z.coerce.number().min(0).max(1e6).default(0),
  pixels: z.enum(['yes', 'no']).default('no'),
});

/**
 * Corrections said of clips, rolls, groups and productions, what a selection shares, undo, and a repair tried on a few
 * seconds.
 */
export function correctionRoutes(context: Context): Router {
  const { db } = context;
  const desk = context.desk.of<typeof correctionTasks>();
  const router = Router();
  router.post('/productions/:id/corrections', async (request, response) => {
    const { to, fields, clear } = checked(correctionsRequest, request.body);
    response.json(
      await desk.do(
        'sayCorrections',
        idOf(request),
        to,
        fields,
        correctionFields.filter((field) => clear.includes(field)),
        member,
      ),
    );
  });
  router.post('/productions/:id/corrections/common', async (request, response) => {
    response.json(await commonCorrections(db, idOf(request), checked(clipIds, request.body).clips));
  });
  router.post('/correction-changes/:id/undo', async (request, response) => {
    await desk.do('undoCorrections', idOf(request));
    response.status(204).end();
  });
  router.get('/clips/:id/repaired', async (request, response) => {
    const { denoise, stabilise, from, pixels } = checked(repairQuery, request.query);
    await sendRepaired(
      context,
      response,
      idOf(request),
      { ...(denoise ? { denoise } : {}), ...(stabilise ? { stabilise } : {}) },
      from,
      pixels === 'yes',
    );
  });
  return router;
}
