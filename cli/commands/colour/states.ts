import { usualStates } from '@relay/core/colour/states';
import { curves } from '@relay/core/colour/curves';
import { gamuts } from '@relay/core/colour/gamuts';
import { printJson } from '../output.ts';

/** `relay colour states [--json]`: what a colour state can be named. */
export async function statesCommand(values: { json?: boolean }): Promise<number> {
  const about = (one: { id: string; name: string; source: string; confirmed?: boolean }): object => ({
    id: one.id,
    name: one.name,
    source: one.source,
    ...(one.confirmed === false ? { confirmed: false } : {}),
  });
  if (values.json) {
    printJson({
      states: usualStates.map(({ id, name, curve, gamut }) => ({ id, name, curve: curve.id, gamut: gamut.id })),
      curves: curves.map(about),
      gamuts: gamuts.map(about),
    });
    return 0;
  }
  const line = (one: { id: string; name: string; source: string; confirmed?: boolean }): string =>
    `  ${one.id.padEnd(14)} ${one.name.padEnd(22)} ${one.source}${one.confirmed === false ? ' (constants without a second source here)' : ''}`;
  process.stdout.write(
    [
      'Curves',
      ...curves.map(line),
      'Gamuts',
      ...gamuts.map(line),
      `Usual pairs and short names: ${usualStates.map((state) => state.id).join(' ')}`,
      '',
    ].join('\n'),
  );
  return 0;
}
