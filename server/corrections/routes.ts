import type { correctionRows } from '@relay/contract/routes/corrections';
import { correctionFields } from '@relay/core/corrections/fields';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import type { correctionTasks } from './deskTasks.ts';
import { sendRepaired } from './repaired.ts';
import { commonCorrections } from './rules.ts';

/** Corrections said of clips, rolls, groups and productions, what a selection shares, undo, and a repair tried. */
export function correctionHandlers(context: Context): Handlers<typeof correctionRows> {
  const { db } = context;
  const desk = context.desk.of<typeof correctionTasks>();
  return {
    say: async ({ params, body: { to, fields, clear }, who }) =>
      desk.do(
        'sayCorrections',
        params.production,
        to,
        { values: fields, clear: correctionFields.filter((field) => clear.includes(field)) },
        who,
      ),
    common: async ({ params, body }) => commonCorrections(db, params.production, body.clips),
    undo: async ({ params }) => desk.do('undoCorrections', params.change),
    repaired: async ({ params, query: { denoise, stabilise, from, pixels }, response }) =>
      sendRepaired(context, response, params.clip, {
        repair: { ...(denoise ? { denoise } : {}), ...(stabilise ? { stabilise } : {}) },
        fromSeconds: from,
        pixels: pixels === 'yes',
      }),
  };
}
