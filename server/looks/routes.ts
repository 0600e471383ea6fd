import { colourRequest } from '@relay/contract/bench';
import { lutChange, lutFromStore } from '@relay/contract/colour';
import express, { Router } from 'express';
import { OutOfPlace } from '@relay/core/naming/under';
import { z } from 'zod';
import { member } from '../clips/decisions.ts';
import { storeOr404, type Context } from '../context.ts';
import { checked, idOf, notThere, Refused } from '../http.ts';
import { holding, NotAsItShould } from '@relay/work/disk/held';
import { readBytes } from '@relay/work/disk/place';
import { largestLutBytes, lutAnswer, lutBytes, lutLines } from './cabinet.ts';
import { sendFrame } from './frame.ts';
import { benchAnswer, benchGroups, chainedClips } from './rules.ts';
import type { lookTasks } from './deskTasks.ts';
import type { correctionTasks } from '../corrections/deskTasks.ts';

const fileName = z.object({ name: z.string().min(1).max(255) });
const frameQuery = z.object({
  frame: z.coerce.number().int().min(0).max(1e8).default(0),
  width: z.coerce.number().int().min(16).max(16_384).default(2048),
});
const targetQuery = z.discriminatedUnion('scope', [
  z.object({ scope: z.literal('roll'), key: z.string().max(200) }),
  z.object({ scope: z.literal('group'), key: z.string().max(400) }),
  z.object({ scope: z.literal('production') }),
]);

/** The hash in a path; what is none cannot be there. */
function hashOf(value: unknown): string {
  if (typeof value !== 'string' || !/^[0-9a-f]{64}$/.test(value)) throw notThere('The LUT');
  return value;
}

/** The bench and the cabinet: LUTs kept and examined, chains said, frames in full depth. */
export function lookRoutes(context: Context): Router {
  const router = Router();
  const { db } = context;
  const desk = context.desk.of<typeof lookTasks & typeof correctionTasks>();
  router.get('/luts', async (_request, response) => void response.json(await lutLines(db)));
  router.post(
    '/luts',
    express.raw({ type: 'application/octet-stream', limit: largestLutBytes }),
    async (request, response) => {
      const { name } = checked(fileName, request.query);
      if (!Buffer.isBuffer(request.body))
        throw new Refused(400, { what: `${name} is empty`, remedy: 'Choose the file again' });
      response.status(201).json(await lutAnswer(db, await desk.do('takeIn', request.body, name)));
    },
  );
  router.post('/luts/from-store', async (request, response) => {
    const { store: storeId, path } = checked(lutFromStore, request.body);
    const store = await storeOr404(context, storeId);
    const bytes = await holding(async (held) => readBytes(await held.file(store.path, path), largestLutBytes)).catch(
      (error: Error) => {
        if (error instanceof OutOfPlace)
          throw new Refused(400, { what: `${path} leaves ${store.name}`, remedy: 'Choose a file inside the store' });
        if (error instanceof NotAsItShould)
          throw new Refused(400, {
            what: `${path} is no LUT: ${error.message}`,
            remedy: 'Choose another file, or make it again with fewer points',
          });
        throw new Refused(404, { what: `${path} is not there`, remedy: `See that ${store.name} is mounted` });
      },
    );
    response.status(201).json(await lutAnswer(db, await desk.do('takeIn', bytes, path)));
  });
  router.get(
    '/luts/:hash',
    async (request, response) => void response.json(await lutAnswer(db, hashOf(request.params.hash))),
  );
  router.get('/luts/:hash/file', async (request, response) => {
    const { bytes, fileName: name } = await lutBytes(db, hashOf(request.params.hash));
    // The bytes of a hash never change.
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .type('application/octet-stream')
      .attachment(name)
      .send(bytes);
  });
  router.post('/luts/:hash', async (request, response) => {
    const hash = hashOf(request.params.hash);
    const { name, tags, takes, gives, rangeIn, rangeOut } = checked(lutChange, request.body);
    await db.query(
      `UPDATE lut SET name = coalesce($2, name), tags = coalesce($3, tags), takes = CASE WHEN $4 THEN $5 ELSE takes END, gives = CASE WHEN $6 THEN $7 ELSE gives END,
         range_in = coalesce($8, range_in), range_out = coalesce($9, range_out) WHERE hash = $1`,
      [
        hash,
        name ?? null,
        tags ?? null,
        takes !== undefined,
        takes ?? null,
        gives !== undefined,
        gives ?? null,
        rangeIn ?? null,
        rangeOut ?? null,
      ],
    );
    response.json(await lutAnswer(db, hash));
  });
  // Put away, never destroyed: old runs must be able to be made again.
  router.delete('/luts/:hash', async (request, response) => {
    await db.query(
      'UPDATE lut SET put_away_at = now() WHERE lower(name) = (SELECT lower(name) FROM lut WHERE hash = $1)',
      [hashOf(request.params.hash)],
    );
    response.status(204).end();
  });

  router.get('/clips/:id/bench', async (request, response) => void response.json(await benchAnswer(db, idOf(request))));
  router.get('/clips/:id/frame', async (request, response) => {
    const { frame, width } = checked(frameQuery, request.query);
    await sendFrame(context, response, idOf(request), frame, width);
  });
  router.get(
    '/productions/:id/bench',
    async (request, response) => void response.json(await benchGroups(db, idOf(request))),
  );
  router.get(
    '/productions/:id/colour',
    async (request, response) =>
      void response.json(await chainedClips(db, idOf(request), checked(targetQuery, request.query))),
  );
  router.post('/productions/:id/colour', async (request, response) => {
    const { to, chain } = checked(colourRequest, request.body);
    response.json(await desk.do('sayCorrections', idOf(request), to, { colour: chain }, [], member));
  });
  return router;
}
