import { readdir, readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { latestEntries, type Manifest, type ManifestEntry } from '@relay/core/custody/manifest';
import { discard, writeWhole } from '../stores/place.ts';
import { c4Of } from './c4.ts';
import { child, readMhl, textOf, writeMhl } from './mhl.ts';
import { readSums } from './sums.ts';
import { readXml, xmlText } from './xml.ts';

/** Where a folder keeps its history, as ASC MHL v2 says. */
export const historyFolder = 'ascmhl';
const chainFile = 'ascmhl_chain.xml';
const generationName = /^(\d{4,})_.*\.mhl$/;

/** A generation as it lies on disk, with why it is not to be believed, if so. */
export interface Generation {
  file: string;
  manifest: Manifest | null;
  doubt: string | null;
}

/** What a folder states about itself. */
export interface History {
  /** `ascmhl` grows with every verification; `list` is a single list that came with the folder; `none`. */
  kind: 'ascmhl' | 'list' | 'none';
  generations: Generation[];
}

/** Every generation of a folder's history, oldest first; or the one list of sums that lies in it. */
export async function readHistory(folder: string): Promise<History> {
  const names = (await readdir(join(folder, historyFolder)).catch(() => [] as string[])).filter((name) => generationName.test(name)).sort();
  if (names.length > 0) {
    const chain = await readChain(folder);
    const generations = await Promise.all(names.map((name) => readGeneration(folder, name, chain)));
    const missing = [...chain.keys()].filter((name) => !names.includes(name)).map((name): Generation => ({ file: `${historyFolder}/${name}`, manifest: null, doubt: 'the chain names it, but it is not there' }));
    return { kind: 'ascmhl', generations: [...generations, ...missing].sort((a, b) => (a.file < b.file ? -1 : 1)) };
  }
  const lists = (await readdir(folder).catch(() => [] as string[])).filter((name) => /\.(mhl|md5|sha1|xxh|xxh64|xxh3|xxh128)$/i.test(name) && !name.startsWith('.')).sort();
  const list = lists[0];
  if (list === undefined) return { kind: 'none', generations: [] };
  const text = await readFile(join(folder, list), 'utf8');
  const read = /\.mhl$/i.test(list) ? readMhl(text, 1) : readSums(text, list);
  return { kind: 'list', generations: [{ file: list, manifest: read.ok ? read.value : null, doubt: read.ok ? null : read.problem.what }] };
}

async function readGeneration(folder: string, name: string, chain: ReadonlyMap<string, string>): Promise<Generation> {
  const file = `${historyFolder}/${name}`;
  const bytes = await readFile(join(folder, file)).catch(() => null);
  if (!bytes) return { file, manifest: null, doubt: 'it cannot be read' };
  const read = readMhl(bytes.toString('utf8'), Number(generationName.exec(name)?.[1]));
  if (!read.ok) return { file, manifest: null, doubt: read.problem.what };
  const stated = chain.get(name);
  const doubt = stated === undefined ? (chain.size > 0 ? 'the chain does not name it' : null) : stated === c4Of(bytes) ? null : 'it was changed after it was written: the chain states another C4 for it';
  return { file, manifest: read.value, doubt };
}

async function readChain(folder: string): Promise<Map<string, string>> {
  const text = await readFile(join(folder, historyFolder, chainFile), 'utf8').catch(() => '');
  const parsed = readXml(text);
  if (!parsed.ok) return new Map();
  return new Map(parsed.value.children.flatMap((node) => {
    const [path, c4] = [textOf(node, 'path'), textOf(node, 'c4')];
    return child(node, 'path') && path && c4 ? [[path, c4] as const] : [];
  }));
}

/** What the history states of every file, all generations taken together; those in doubt count for nothing. */
export function statedEntries(history: History): ManifestEntry[] {
  return latestEntries(history.generations.flatMap(({ manifest, doubt }) => (manifest && doubt === null ? [manifest] : [])));
}

/**
 * Adds a generation to a folder's history and to its chain; the manifest first, so that a crash between them loses
 * nothing. A number that is given takes the place of what an attempt that broke off wrote under it.
 */
export async function addGeneration(folder: string, manifest: Omit<Manifest, 'generation'> & { generation?: number }): Promise<string> {
  const names = (await readdir(join(folder, historyFolder)).catch(() => [] as string[])).filter((name) => generationName.test(name)).sort();
  const generation = manifest.generation ?? names.reduce((highest, name) => Math.max(highest, Number(generationName.exec(name)?.[1])), 0) + 1;
  const stamp = manifest.createdAt.replace('T', '_').replace(/[:]/g, '').replace(/\.\d+/, '');
  const file = `${historyFolder}/${String(generation).padStart(4, '0')}_${basename(folder).slice(0, 60).replace(/[^\p{L}\p{N}._-]/gu, '_')}_${stamp}.mhl`;
  const text = writeMhl({ ...manifest, generation });
  const chain = await readChain(folder);
  for (const name of [...names, ...chain.keys()].filter((one) => Number(generationName.exec(one)?.[1]) === generation)) {
    await discard(join(folder, historyFolder, name));
    chain.delete(name);
  }
  await writeWhole(join(folder, file), text);
  chain.set(basename(file), c4Of(text));
  const lists = [...chain].sort(([a], [b]) => (a < b ? -1 : 1)).map(([path, c4]) => `  <hashlist sequencenr="${Number(generationName.exec(path)?.[1] ?? 0)}">\n    <path>${xmlText(path)}</path>\n    <c4>${c4}</c4>\n  </hashlist>\n`);
  await writeWhole(join(folder, historyFolder, chainFile), `<?xml version="1.0" encoding="UTF-8"?>\n<ascmhldirectory xmlns="urn:ASC:MHL:DIRECTORY:v2.0">\n${lists.join('')}</ascmhldirectory>\n`);
  return file;
}
