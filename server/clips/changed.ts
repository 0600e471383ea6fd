import type { WhatIsNew } from '@relay/contract/runs';
import type { Context } from '../context.ts';
import type { Tools } from '../desk/tools.ts';
import { asksForChanged } from './queries.ts';

/** A task that the room of runs has at the desk, which stands above this one. */
interface TaskOfRuns {
  whatIsNew: (tools: Tools, production: string) => Promise<WhatIsNew>;
}

/** The clips of which something else would be made now, where a filter asks for them; else null. */
export async function changedFor(
  { desk }: Pick<Context, 'desk'>,
  production: string,
  filter: string,
): Promise<readonly string[] | null> {
  if (!asksForChanged(filter)) return null;
  return (await desk.of<TaskOfRuns & Record<string, never>>().do('whatIsNew', production)).changed;
}
