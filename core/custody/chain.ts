import { nameProblem } from '../naming/under.ts';
import { fail, ok, type Result } from '../result.ts';
import { readXml, textOf } from '../text/tree.ts';

/** What the chain file of an ASC MHL v2 history states: generations by their files' names, each with its C4 ID. */
export type Chain = readonly (readonly [name: string, c4: string])[];

/** Names of generations, as ASC MHL v2 says: a number of four digits or more, then what anybody likes. */
export const generationName = /^(\d{4,9})_[^/\\]*\.mhl$/;

/** Reads `ascmhl_chain.xml`. A chain that names anything but files beside it is not believed at all. */
export function readChain(text: string): Result<Chain> {
  const chain: [string, string][] = [];
  const parsed = readXml(text);
  if (!parsed.ok) return parsed;
  for (const node of parsed.value.children) {
    const [name, c4] = [textOf(node, 'path'), textOf(node, 'c4')];
    if (name === null || c4 === null) continue;
    const refused = nameProblem(name) ?? (generationName.test(name) ? null : 'is no name of a generation');
    if (refused)
      return fail(`it names ${JSON.stringify(name.slice(0, 200))}, which ${refused}`, 'Do not trust this history');
    chain.push([name, c4]);
  }
  return ok(chain);
}
