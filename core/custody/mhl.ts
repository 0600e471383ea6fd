import { hashNames, type HashAction, type Hashes, type Manifest, type ManifestEntry } from './manifest.ts';
import { placeProblem } from '../naming/under.ts';
import { fail, ok, type Result } from '../result.ts';
import { child, localName, readXml, textOf, usualLimits, type Tree } from '../text/tree.ts';

/**
 * ASC Media Hash List, version 2 (open specification of the American Society of Cinematographers): one generation of a
 * folder's history.
 */
const namespace = 'urn:ASC:MHL:v2.0';
/** What is never part of a folder's history: systems' own litter, and the history itself. */
export const ignoredNames = [
  '.DS_Store',
  'ascmhl',
  '.relay-*',
  '.Trashes',
  '.Spotlight-V100',
  '.fseventsd',
  'System Volume Information',
] as const;

export function writeMhl(manifest: Manifest): string {
  const lines = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<hashlist version="2.0" xmlns="${namespace}">`,
    '  <creatorinfo>',
    `    <creationdate>${manifest.createdAt}</creationdate>`,
    `    <hostname>${xmlText(manifest.host)}</hostname>`,
    `    <tool version="0.1.0">${xmlText(manifest.tool)}</tool>`,
    '  </creatorinfo>',
    '  <processinfo>',
    `    <process>${manifest.process}</process>`,
    '    <ignore>',
    ...ignoredNames.map((name) => `      <pattern>${name}</pattern>`),
    '    </ignore>',
    '  </processinfo>',
    '  <hashes>',
  ];
  for (const entry of manifest.entries) {
    const size = entry.sizeBytes === null ? '' : ` size="${entry.sizeBytes}"`;
    const time = entry.modifiedAt === null ? '' : ` lastmodificationdate="${entry.modifiedAt}"`;
    lines.push('    <hash>', `      <path${size}${time}>${xmlText(entry.path)}</path>`);
    for (const name of hashNames) {
      const hash = entry.hashes[name];
      if (hash !== undefined)
        lines.push(`      <${name} action="${entry.action}" hashdate="${manifest.createdAt}">${hash}</${name}>`);
    }
    lines.push('    </hash>');
  }
  lines.push('  </hashes>', '</hashlist>', '');
  return lines.join('\n');
}

/** Text for an element or attribute. */
export function xmlText(text: string): string {
  return text.replace(
    /[&<>"]/g,
    (letter) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[letter] as string,
  );
}

/**
 * Whether XML 1.0 can hold a text at all: no control characters, no halves of pairs, no U+FFFD that stands for
 * unreadable bytes.
 */
export function fitsXml(text: string): boolean {
  return !/[\u0000-\u001f\u007f\ufffd\ufffe\uffff]|\p{Cs}/u.test(text);
}

/**
 * Why a stated path is not taken: it must stay inside the folder. Null when it does; backslashes and colons are letters
 * of a name here.
 */
export function pathRefused(path: string): string | null {
  return placeProblem(path.replaceAll('\\', '_'));
}

/**
 * Reads a generation of ASC MHL v2, or a hash list of the older version 1.1 of the same kind (`<file>`, `<size>`,
 * `xxhash64be`).
 */
export function readMhl(text: string, generation: number): Result<Manifest> {
  const entries: ManifestEntry[] = [];
  const seen = new Set<string>();
  let wrong: string | null = null;
  // Each element for a file is taken as it ends; a later one may be the last of many thousands.
  const take = (node: Tree): boolean => {
    if (localName(node.name) !== 'hash' || wrong !== null) return localName(node.name) === 'hash';
    const entry = child(node, 'file') ? oldEntry(node) : newEntry(node);
    const refused = pathRefused(entry.path);
    if (refused) wrong = `the path ${JSON.stringify(entry.path.slice(0, 200))} ${refused}`;
    else if (seen.has(entry.path)) wrong = `${entry.path} is stated twice`;
    seen.add(entry.path);
    entries.push(entry);
    return true;
  };
  const parsed = readXml(text, usualLimits, take);
  if (!parsed.ok) return parsed;
  const root = parsed.value;
  if (localName(root.name) !== 'hashlist') return fail('it is no hash list', 'Leave it aside');
  if (wrong !== null) return fail(wrong, 'Do not trust this manifest');
  const info = child(root, 'creatorinfo');
  const process = textOf(child(root, 'processinfo'), 'process');
  return ok({
    generation,
    entries,
    createdAt: textOf(info, 'creationdate') ?? textOf(info, 'finishdate') ?? '',
    host: textOf(info, 'hostname') ?? '',
    tool: textOf(info, 'tool') ?? '',
    process: process === 'transfer' || process === 'flatten' ? process : 'in-place',
  });
}

function sizeOf(text: string | null | undefined): number | null {
  return text && /^\d{1,15}$/.test(text) ? Number(text) : null;
}

function newEntry(node: Tree): ManifestEntry {
  const path = child(node, 'path');
  const hashes: Hashes = {};
  let action: HashAction = 'original';
  for (const name of hashNames) {
    const hash = child(node, name);
    if (!hash) continue;
    // The digits of C4 are told apart by case; those of the others may be written in either.
    hashes[name] = name === 'c4' ? hash.text.trim() : hash.text.trim().toLowerCase();
    const said = textOf(hash, 'action');
    if (said === 'verified' || said === 'failed') action = said;
  }
  return {
    path: path?.text ?? '',
    sizeBytes: sizeOf(path && textOf(path, 'size')),
    modifiedAt: path ? textOf(path, 'lastmodificationdate') : null,
    hashes,
    action,
  };
}

function oldEntry(node: Tree): ManifestEntry {
  const hashes: Hashes = {};
  const xxh64 = textOf(node, 'xxhash64be') ?? textOf(node, 'xxhash64');
  if (xxh64) hashes.xxh64 = xxh64.toLowerCase();
  for (const name of ['md5', 'sha1'] as const) {
    const hash = textOf(node, name);
    if (hash) hashes[name] = hash.toLowerCase();
  }
  return {
    path: child(node, 'file')?.text ?? '',
    sizeBytes: sizeOf(textOf(node, 'size')),
    modifiedAt: textOf(node, 'lastmodificationdate'),
    hashes,
    action: 'original',
  };
}
