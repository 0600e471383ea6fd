import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join, normalize, relative } from 'node:path';
import ts from 'typescript';

/** Who imports whom, as the sources say: the base of the picture in docs/architecture.md and of the tests about it. */

const root = join(import.meta.dirname, '..');

/** The floors, lowest first; each may import only what stands before it, as `mayImport` has it. */
export const floors = ['core', 'contract', 'media', 'work', 'demo', 'server', 'cli', 'web', 'bench'] as const;
export type Floor = (typeof floors)[number];

/** Every source file of the floors but tests, by its path from the root. */
export function sourceFiles(): string[] {
  const listed = execFileSync('git', ['ls-files', '-co', '--exclude-standard', ...floors], {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 64_000_000,
  });
  return listed
    .split('\n')
    .filter((path) => /\.tsx?$/.test(path) && !/\.test\.tsx?$|\.d\.ts$/.test(path) && existsSync(join(root, path)))
    .sort();
}

/** The files of our own that a file imports, by their paths from the root. Imports of types count. */
function importsOf(path: string): string[] {
  const { importedFiles } = ts.preProcessFile(readFileSync(join(root, path), 'utf8'), true, true);
  return importedFiles.flatMap(({ fileName }) => {
    const place = fileName.startsWith('@relay/')
      ? fileName.slice('@relay/'.length)
      : fileName.startsWith('.')
        ? relative(root, normalize(join(root, dirname(path), fileName)))
        : null;
    if (place === null) return [];
    const found = [place, `${place}.ts`, `${place}.tsx`].find(
      (candidate) => /\.tsx?$/.test(candidate) && existsSync(join(root, candidate)),
    );
    return found === undefined ? [] : [found];
  });
}

/** For each file, the files that it imports. */
export function importGraph(): Map<string, string[]> {
  return new Map(sourceFiles().map((path) => [path, importsOf(path)]));
}

/**
 * Groups of nodes that lead back to each other (Tarjan, Depth-first search and linear graph algorithms, 1972): each of
 * more than one node is a circle.
 */
export function circlesOf(graph: ReadonlyMap<string, readonly string[]>): string[][] {
  const found: string[][] = [];
  const order = new Map<string, number>();
  const lowest = new Map<string, number>();
  const stack: string[] = [];
  const visit = (node: string): void => {
    order.set(node, order.size);
    lowest.set(node, order.get(node) as number);
    stack.push(node);
    for (const next of graph.get(node) ?? []) {
      if (!order.has(next)) visit(next);
      if (stack.includes(next)) lowest.set(node, Math.min(lowest.get(node) as number, lowest.get(next) as number));
    }
    if (lowest.get(node) !== order.get(node)) return;
    const circle = stack.splice(stack.indexOf(node));
    if (circle.length > 1) found.push(circle.sort());
  };
  for (const node of graph.keys()) if (!order.has(node)) visit(node);
  return found;
}

/** The room that a file stands in: its folder, or itself where it stands on the floor by itself. */
export function roomOf(path: string): string {
  const parts = path.split('/');
  return parts.length > 2 ? parts.slice(0, 2).join('/') : path;
}

/** For each room, the rooms that it imports. */
export function roomGraph(graph: ReadonlyMap<string, readonly string[]>): Map<string, string[]> {
  const rooms = new Map<string, Set<string>>();
  for (const [path, imported] of graph) {
    const of = rooms.get(roomOf(path)) ?? new Set<string>();
    for (const other of imported) if (roomOf(other) !== roomOf(path)) of.add(roomOf(other));
    rooms.set(roomOf(path), of);
  }
  return new Map([...rooms].map(([room, others]) => [room, [...others].sort()]));
}
