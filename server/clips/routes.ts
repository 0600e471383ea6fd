import type { clipRows } from '@relay/contract/routes/clips';
import type { Response } from 'express';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { notThere } from '../http.ts';
import { lookPath, posterPath, readLook, stripPath } from './cache.ts';
import type { clipTasks } from './deskTasks.ts';
import { clipAnswer } from './one.ts';
import { sendPlay } from './play.ts';
import { changedFor } from './changed.ts';
import { clipLines, clipSheet } from './queries.ts';

/** The clips sheet, one clip with all that is known of it, its pictures and its sound. */
export function clipHandlers(context: Context): Handlers<typeof clipRows> {
  const { db, cacheFolder } = context;
  const desk = context.desk.of<typeof clipTasks>();
  return {
    sheet: async ({ params: { production }, query: { sort, direction, filter } }) =>
      clipSheet(db, production, sort, direction, {
        filter,
        changed: await changedFor(context, production, filter),
      }),
    lines: async ({ params, body }) => clipLines(db, params.production, body.clips),
    common: async ({ params, body }) => desk.json('commonOf', params.production, body.clips),
    clip: async ({ params }) => {
      const clip = await clipAnswer(db, params.clip);
      if (!clip) throw notThere('The clip');
      return clip;
    },
    poster: async ({ params, response }) => sendDrawn(response, posterPath(cacheFolder, params.clip), 'The poster'),
    strip: async ({ params, response }) => sendDrawn(response, stripPath(cacheFolder, params.clip), 'The filmstrip'),
    look: async ({ params }) => {
      const look = await readLook(lookPath(cacheFolder, params.clip));
      if (!look) throw notThere('What was looked at closely');
      return look;
    },
    play: async ({ params, query, response }) =>
      sendPlay(context, response, params.clip, query.from, query.channel ?? null),
  };
}

/** Sends what was drawn of a clip, from the application's cache. */
function sendDrawn(response: Response, path: string, what: string): Promise<void> {
  return new Promise((resolve, reject) => {
    response.sendFile(
      path,
      { cacheControl: false, headers: { 'Cache-Control': 'private, max-age=60' }, dotfiles: 'allow' },
      (error) => {
        if (error && !response.headersSent) reject(notThere(what));
        else resolve();
      },
    );
  });
}
