import { spawn } from 'node:child_process';
import { eachLine } from './run.ts';

/**
 * Debian's FFmpeg is linked with some two hundred libraries, and the dynamic linker looks for each of its fifty thousand
 * symbols in one after the other: half of what a start costs. Libraries that are loaded first (LD_PRELOAD, ld.so(8)) are
 * asked first; with those in front that have most of the symbols, few questions are asked in vain. An order is taken only
 * when every symbol is found where it was found without it. docs/decisions/0041-where-the-linker-looks-first.md
 */

/** Where each symbol was found: the library that has it, by who asked, for what, of which version. */
export type Bindings = ReadonlyMap<string, string>;

/**
 * How many libraries are put in front: with those that have most symbols a start took 79 ms of processor time with 4 of
 * them, 64 with 32, 65 with 64, and 128 without (measured while tests ran beside it).
 */
const mostInFront = 96;
/** So often an order is mended before it is given up. */
const mostTries = 8;

/** One line of what the linker tells (LD_DEBUG=bindings), as who asked for what and who has it; null for any other. */
export function bindingOf(line: string): [asked: string, has: string] | null {
  const found = /binding file (\S+) \[\d+\] to (\S+) \[\d+\]: \w+ symbol `([^']*)'(.*)$/.exec(line);
  return found ? [`${found[1]} ${found[3]}${found[4]}`, found[2] as string] : null;
}

/** Libraries by how many symbols they have, most first; the linker itself and the program are none. */
export function byUse(bindings: Bindings): string[] {
  const uses = new Map<string, number>();
  for (const library of bindings.values()) {
    if (/^\/.*\/lib[^/]*\.so/.test(library)) uses.set(library, (uses.get(library) ?? 0) + 1);
  }
  return [...uses].sort(([, one], [, other]) => other - one).map(([library]) => library);
}

/** For a library, those that must be asked before it. */
export type Before = Map<string, Set<string>>;

/**
 * Adds what bindings teach: where a symbol was found in another library than without an order, whose it is must be asked
 * before the one that has another of the same name. True when nothing was to be learnt.
 */
export function learn(before: Before, was: Bindings, now: Bindings): boolean {
  let same = was.size === now.size;
  for (const [asked, whose] of was) {
    const found = now.get(asked);
    if (found === whose) continue;
    same = false;
    if (found !== undefined) before.set(found, (before.get(found) ?? new Set()).add(whose));
  }
  return same;
}

/**
 * Libraries in the order that is wished for, each behind those that must be asked before it, whether those are wished for
 * or not. There is always such an order: the one that the linker has of itself.
 */
export function inOrder(wished: readonly string[], before: Before): string[] {
  const placed = new Set<string>();
  const begun = new Set<string>();
  const place = (library: string): void => {
    if (begun.has(library)) return;
    begun.add(library);
    before.get(library)?.forEach(place);
    placed.add(library);
  };
  wished.forEach(place);
  return [...placed];
}

/**
 * Starts a program for nothing but to hear where its symbols are found, those too that would be looked for later.
 * @throws Error when it cannot be started, or does not end well: so that nothing is made of half of what it would tell
 */
async function bindingsOf(program: string, first: readonly string[]): Promise<Bindings> {
  const child = spawn(program, ['-version'], {
    stdio: ['ignore', 'ignore', 'pipe'],
    env: { PATH: process.env.PATH, LD_DEBUG: 'bindings', LD_BIND_NOW: '1', LD_PRELOAD: first.join(':') },
  });
  const bindings = new Map<string, string>();
  eachLine(child.stderr, (line) => {
    const binding = bindingOf(line);
    if (binding) bindings.set(...binding);
  });
  const code = await new Promise<number | null>((resolve, reject) =>
    child.once('close', resolve).once('error', reject),
  );
  if (code !== 0) throw new Error(`${program} ended with code ${code ?? 'none'}`);
  return bindings;
}

/**
 * The libraries that are to be asked first, for all of these programs; none where no order leaves everything where it was.
 * Takes some seconds: what comes of it holds until a library is exchanged.
 */
export async function linkOrder(programs: readonly string[]): Promise<string[]> {
  const was = await Promise.all(programs.map((program) => bindingsOf(program, [])));
  const wished = byUse(was[0] ?? new Map<string, string>()).slice(0, mostInFront);
  const before: Before = new Map();
  for (let tries = 0; tries < mostTries; tries += 1) {
    const order = inOrder(wished, before);
    const now = await Promise.all(programs.map((program) => bindingsOf(program, order)));
    const learnt = now.map((bindings, index) => learn(before, was[index] as Bindings, bindings));
    if (learnt.every(Boolean)) return order;
  }
  return [];
}
