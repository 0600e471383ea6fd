import type { InletAnswer, InletLine } from '@relay/contract/inlets';
import type { inletRows } from '@relay/contract/routes/inlets';
import type { Handlers } from '../bind.ts';
import type { Context } from '../context.ts';
import { notThere } from '../http.ts';
import { tell } from '../live/notify.ts';
import { dropCard, hasDemo } from './demoCard.ts';
import { addInlet, changeInlet, pauseInlet, removeInlet } from './keep.ts';
import { inletAnswer, inletLines } from './queries.ts';
import { tryAgain } from './tryAgain.ts';

/** Inlets: made, changed, paused, looked at. Their keepers (`inletThread.ts`) hear of it and do the rest. */
export function inletHandlers(context: Context): Handlers<typeof inletRows> {
  const { db } = context;
  const changed = (): Promise<void> => tell(db, { kind: 'changed', what: 'inlets', production: null });
  const isDemo = (line: InletLine): Promise<boolean> => hasDemo(context, line);
  const answer = async (id: string): Promise<InletAnswer> => {
    const found = await inletAnswer(db, id, isDemo);
    if (!found) throw notThere('The inlet');
    return found;
  };
  return {
    inlets: async ({ params }) => inletLines(db, params.production),
    inlet: async ({ params }) => answer(params.inlet),
    add: async ({ params, body, who }) => {
      const id = await addInlet(context, params.production, body, who);
      await changed();
      return answer(id);
    },
    change: async ({ params, body }) => {
      await changeInlet(context, params.inlet, body);
      await changed();
      return answer(params.inlet);
    },
    pause: async ({ params, body }) => {
      await pauseInlet(db, params.inlet, body.paused);
      await changed();
    },
    remove: async ({ params }) => {
      await removeInlet(db, params.inlet);
      await changed();
    },
    again: async ({ params }) => {
      await tryAgain(context, params.thing);
      await changed();
    },
    drop: async ({ params }) => dropCard(context, await answer(params.inlet)),
  };
}
