import type { identityRows } from '@relay/contract/routes/identity';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { Refused } from '../http.ts';
import { changedFor } from './changed.ts';
import type { clipTasks } from './deskTasks.ts';
import { dropFilter, filters, keepFilter } from './filters.ts';

/** What people say and decide about clips: identity by hand, by pattern, by CSV; answers to findings; kept filters. */
export function identityHandlers(context: Context): Handlers<typeof identityRows> {
  const { db } = context;
  const desk = context.desk.of<typeof clipTasks>();
  return {
    say: async ({ params, body: { clips, change }, who }) => {
      const fields = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
      if (Object.keys(fields).length === 0)
        throw new Refused(400, { what: 'Nothing was said', remedy: 'Fill in a field' });
      return desk.do(
        'say',
        params.production,
        clips.map((clip) => ({ ...clip, change: fields })),
        Object.keys(fields).join(', '),
        who,
      );
    },
    previewPattern: async ({ params, body: { clips, field, pattern } }) =>
      desk.json('previewPattern', params.production, clips, field, pattern),
    sayPattern: async ({ params, body: { clips, field, pattern }, who }) =>
      desk.do('sayPattern', params.production, clips, { field, pattern }, who),
    csv: async ({ params, query, response }) =>
      void response
        .type('text/csv; charset=utf-8')
        .attachment('clips.csv')
        .send(
          await desk.do(
            'clipsCsv',
            params.production,
            query.filter,
            await changedFor(context, params.production, query.filter),
          ),
        ),
    previewCsv: async ({ params, body }) => desk.json('previewCsv', params.production, body),
    sayCsv: async ({ params, body, who }) => desk.do('sayCsv', params.production, body, who),
    undo: async ({ params }) => ({ clips: await desk.do('undo', params.change) }),
    decide: async ({ params: { production }, body: { clips, rule, answer, note } }) => {
      const answered = clips.map((clip) => ({ clip, rules: [rule] }));
      await desk.do('decide', production, answered, answer, note);
      await desk.do('decided', production, answered);
    },
    filters: async ({ params }) => filters(db, params.production),
    keepFilter: async ({ params, body }) => keepFilter(db, params.production, body.name, body.words),
    dropFilter: async ({ params }) => dropFilter(db, params.filter),
  };
}
