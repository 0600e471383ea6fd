import { readdir, unlink } from 'node:fs/promises';
import { basename } from 'node:path';
import { generationName } from '@relay/core/custody/chain';
import { latestEntries, type Manifest, type ManifestEntry } from '@relay/core/custody/manifest';
import { writeMhl, xmlText } from '@relay/core/custody/mhl';
import { under } from '@relay/core/naming/under';
import { fail, type Result } from '@relay/core/result';
import { asShown } from '@relay/media/process/pinned';
import { aside } from '../aside/aside.ts';
import { TooMuch } from '../aside/tooMuch.ts';
import { holding, NotAsItShould, pathOf, type Root } from '../disk/held.ts';
import { readBytes, readText, writeWhole } from '../disk/place.ts';
import { c4Of } from '../disk/c4.ts';

/** Where a folder keeps its history, as ASC MHL v2 says. */
export const historyFolder = 'ascmhl';
const chainFile = 'ascmhl_chain.xml';

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

/** Manifests larger than this are nobody's. */
const largestManifest = 64_000_000;
const listName = /\.(mhl|md5|sha1|xxh|xxh64|xxh3|xxh128)$/i;

/**
 * Names of the files that a folder's history is in: generations, or lists of sums that came with it. Nothing of them is
 * read.
 */
export async function historyNames(at: Root): Promise<{ kind: History['kind']; names: string[] }> {
  return holding(async (held) => {
    const inside = await held.folder(at, historyFolder).then(
      (folder) => readdir(folder),
      () => [] as string[],
    );
    const generations = inside.filter((name) => generationName.test(name)).sort();
    if (generations.length > 0) return { kind: 'ascmhl', names: generations };
    const beside = await held.folder(at, '').then(
      (folder) => readdir(folder),
      () => [] as string[],
    );
    const lists = beside.filter((name) => listName.test(name) && !name.startsWith('.')).sort();
    return { kind: lists.length > 0 ? 'list' : 'none', names: lists };
  });
}

/** Every generation of a folder's history, oldest first; or the one list of sums that lies in it. */
export async function readHistory(at: Root): Promise<History> {
  const { kind, names } = await historyNames(at);
  if (kind === 'none') return { kind, generations: [] };
  return holding(async (held) => {
    if (kind === 'ascmhl') {
      const folder = await held.folder(at, historyFolder);
      const chain = await chainOf(folder);
      const generations: Generation[] = [];
      for (const name of names) generations.push(await readGeneration(folder, name, chain));
      const missing = [...chain.generations.keys()]
        .filter((name) => !names.includes(name))
        .map((name): Generation => ({
          file: `${historyFolder}/${name}`,
          manifest: null,
          doubt: 'the chain names it, but it is not there',
        }));
      return { kind, generations: [...generations, ...missing].sort((a, b) => (a.file < b.file ? -1 : 1)) };
    }
    const file = names[0] as string;
    const text = await readText(under(await held.folder(at, ''), file), largestManifest).catch((error: Error) => error);
    if (typeof text !== 'string') return { kind, generations: [{ file, manifest: null, doubt: whyUnread(text) }] };
    const read = await (
      /\.mhl$/i.test(file) ? aside('mhl', { text, generation: 1 }) : aside('sums', { text, name: file })
    ).catch(asDoubt);
    return {
      kind,
      generations: [{ file, manifest: read.ok ? read.value : null, doubt: read.ok ? null : read.problem.what }],
    };
  });
}

function whyUnread(error: Error): string {
  return error instanceof NotAsItShould || (error as NodeJS.ErrnoException).code === 'RELAY_NO_FILE'
    ? asShown(error.message)
    : 'it cannot be read';
}

/** What takes too long to be read is not believed. */
function asDoubt(error: Error): Result<never> {
  if (error instanceof TooMuch) return fail(error.message, 'Leave it aside');
  throw error;
}

async function readGeneration(folder: string, name: string, chain: KnownChain): Promise<Generation> {
  const file = `${historyFolder}/${name}`;
  const bytes = await readBytes(under(folder, name), largestManifest).catch((error: Error) => error);
  if (!Buffer.isBuffer(bytes)) return { file, manifest: null, doubt: whyUnread(bytes) };
  const read = await aside('mhl', {
    text: bytes.toString('utf8'),
    generation: Number(generationName.exec(name)?.[1]),
  }).catch(asDoubt);
  if (!read.ok) return { file, manifest: null, doubt: read.problem.what };
  return { file, manifest: read.value, doubt: doubtOf(name, bytes, chain) };
}

/** Why the chain does not vouch for a generation; null where it does, or there is none. */
function doubtOf(name: string, bytes: Buffer, chain: KnownChain): string | null {
  if (chain.doubt !== null) return `the chain is not to be believed: ${chain.doubt}`;
  const stated = chain.generations.get(name);
  if (stated === undefined) return chain.generations.size > 0 ? 'the chain does not name it' : null;
  return stated === c4Of(bytes) ? null : 'it was changed after it was written: the chain states another C4 for it';
}

/** What a chain file states, or why it is not believed. */
interface KnownChain {
  generations: Map<string, string>;
  doubt: string | null;
}

async function chainOf(folder: string): Promise<KnownChain> {
  const text = await readText(under(folder, chainFile), largestManifest).catch((error: NodeJS.ErrnoException) =>
    error.code === 'ENOENT' ? null : error,
  );
  if (text === null) return { generations: new Map(), doubt: null };
  if (typeof text !== 'string') return { generations: new Map(), doubt: whyUnread(text) };
  const read = await aside('chain', text).catch(asDoubt);
  return read.ok
    ? { generations: new Map(read.value), doubt: null }
    : { generations: new Map(), doubt: read.problem.what };
}

/** What the history states of every file, all generations taken together; those in doubt count for nothing. */
export function statedEntries(history: History): ManifestEntry[] {
  return latestEntries(
    history.generations.flatMap(({ manifest, doubt }) => (manifest && doubt === null ? [manifest] : [])),
  );
}

/**
 * Adds a generation to a folder's history and to its chain; the manifest first, so that a crash between them loses
 * nothing. A number that is given takes the place of what an attempt that broke off wrote under it: of a file of that
 * number that lies there, never of one that a chain merely names.
 */
export async function addGeneration(
  at: Root,
  manifest: Omit<Manifest, 'generation'> & { generation?: number },
): Promise<string> {
  return holding(async (held) => {
    const folder = await held.folder(at, historyFolder, true);
    const names = (await readdir(folder)).filter((name) => generationName.test(name)).sort();
    const generation = manifest.generation ?? names.reduce((highest, name) => Math.max(highest, numberOf(name)), 0) + 1;
    const stamp = manifest.createdAt.replace('T', '_').replace(/[:]/g, '').replace(/\.\d+/, '');
    const called = basename(pathOf(at))
      .slice(0, 60)
      .replace(/[^\p{L}\p{N}._-]/gu, '_');
    const file = `${String(generation).padStart(4, '0')}_${called}_${stamp}.mhl`;
    const text = writeMhl({ ...manifest, generation });
    // A chain that is not to be believed is begun anew: what it stated stays in doubt, for the new one does not name
    // it.
    const { generations: chain } = await chainOf(folder);
    for (const name of names.filter((one) => numberOf(one) === generation)) await unlink(under(folder, name));
    for (const name of [...chain.keys()].filter((one) => numberOf(one) === generation)) chain.delete(name);
    await writeWhole(under(folder, file), text);
    chain.set(file, c4Of(text));
    const lists = [...chain]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(
        ([path, c4]) =>
          `  <hashlist sequencenr="${numberOf(path)}">\n    <path>${xmlText(path)}</path>\n    <c4>${xmlText(c4)}</c4>\n  </hashlist>\n`,
      );
    await writeWhole(
      under(folder, chainFile),
      `<?xml version="1.0" encoding="UTF-8"?>\n<ascmhldirectory xmlns="urn:ASC:MHL:DIRECTORY:v2.0">\n${lists.join('')}</ascmhldirectory>\n`,
    );
    return `${historyFolder}/${file}`;
  });
}

function numberOf(name: string): number {
  return Number(generationName.exec(name)?.[1] ?? 0);
}
