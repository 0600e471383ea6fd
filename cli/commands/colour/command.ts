import { Misuse } from '../output.ts';

const parts: Readonly<Record<string, (args: string[]) => Promise<number>>> = {
  eval: async (args) => (await import('./eval.ts')).evalCommand(args),
  bake: async (args) => (await import('./bake.ts')).bakeCommand(args),
  examine: async (args) => (await import('./examine.ts')).examineCommand(args),
  states: async (args) => (await import('./states.ts')).statesCommand(args),
};

/** `relay colour eval|bake|examine|states`. */
export async function colourCommand(args: string[]): Promise<number> {
  const [part, ...rest] = args;
  const command = part === undefined ? undefined : Object.hasOwn(parts, part) ? parts[part] : undefined;
  if (!command)
    throw new Misuse(
      `colour takes ${Object.keys(parts).join(', ')}${part === undefined ? '' : `, not ${JSON.stringify(part)}`}`,
    );
  return command(rest);
}
