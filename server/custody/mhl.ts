import { hashNames, type HashAction, type Hashes, type Manifest, type ManifestEntry } from '@relay/core/custody/manifest';
import type { Tree } from '@relay/core/clip/sidecar';
import { fail, ok, type Result } from '@relay/core/result';
import { readXml, xmlText } from './xml.ts';

/** ASC Media Hash List, version 2 (open specification of the American Society of Cinematographers): one generation of a folder's history. */
const namespace = 'urn:ASC:MHL:v2.0';
/** What is never part of a folder's history: systems' own litter, and the history itself. */
export const ignoredNames = ['.DS_Store', 'ascmhl', '.relay-*', '.Trashes', '.Spotlight-V100', '.fseventsd', 'System Volume Information'] as const;

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
      if (hash !== undefined) lines.push(`      <${name} action="${entry.action}" hashdate="${manifest.createdAt}">${hash}</${name}>`);
    }
    lines.push('    </hash>');
  }
  lines.push('  </hashes>', '</hashlist>', '');
  return lines.join('\n');
}

export function child(tree: Tree, name: string): Tree | undefined {
  return tree.children.find((one) => one.name.slice(one.name.lastIndexOf(':') + 1) === name);
}

export function textOf(tree: Tree | undefined, name: string): string | null {
  return (tree && child(tree, name)?.text.trim()) || null;
}

/** Why a stated path is not taken: it must stay inside the folder. Null when it does; backslashes and colons are letters of a name here. */
export function pathRefused(path: string): string | null {
  if (path === '' || path.startsWith('/')) return 'is no path inside the folder';
  return path.split('/').some((part) => part === '..' || part === '.' || part === '') ? 'leads out of the folder' : null;
}

/** Reads a generation of ASC MHL v2, or a hash list of the older version 1.1 of the same kind (`<file>`, `<size>`, `xxhash64be`). */
export function readMhl(text: string, generation: number): Result<Manifest> {
  const parsed = readXml(text);
  if (!parsed.ok) return parsed;
  const root = parsed.value;
  if (root.name !== 'hashlist') return fail('it is no hash list', 'Leave it aside');
  const old = !child(root, 'hashes');
  const listed = old ? root.children : (child(root, 'hashes')?.children ?? []);
  const entries: ManifestEntry[] = [];
  const seen = new Set<string>();
  for (const node of listed.filter((one) => one.name === 'hash')) {
    const entry = old ? oldEntry(node) : newEntry(node);
    const refused = pathRefused(entry.path);
    if (refused) return fail(`the path ${JSON.stringify(entry.path)} ${refused}`, 'Do not trust this manifest');
    if (seen.has(entry.path)) return fail(`${entry.path} is stated twice`, 'Do not trust this manifest');
    seen.add(entry.path);
    entries.push(entry);
  }
  const info = child(root, 'creatorinfo');
  const process = textOf(child(root, 'processinfo'), 'process');
  return ok({
    generation, entries,
    createdAt: textOf(info, 'creationdate') ?? textOf(info, 'finishdate') ?? '', host: textOf(info, 'hostname') ?? '', tool: textOf(info, 'tool') ?? '',
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
    hashes[name] = hash.text.trim().toLowerCase();
    const said = textOf(hash, 'action');
    if (said === 'verified' || said === 'failed') action = said;
  }
  return { path: path?.text ?? '', sizeBytes: sizeOf(path && textOf(path, 'size')), modifiedAt: path ? textOf(path, 'lastmodificationdate') : null, hashes, action };
}

function oldEntry(node: Tree): ManifestEntry {
  const hashes: Hashes = {};
  const xxh64 = textOf(node, 'xxhash64be') ?? textOf(node, 'xxhash64');
  if (xxh64) hashes.xxh64 = xxh64.toLowerCase();
  for (const name of ['md5', 'sha1'] as const) {
    const hash = textOf(node, name);
    if (hash) hashes[name] = hash.toLowerCase();
  }
  return { path: child(node, 'file')?.text ?? '', sizeBytes: sizeOf(textOf(node, 'size')), modifiedAt: textOf(node, 'lastmodificationdate'), hashes, action: 'original' };
}
