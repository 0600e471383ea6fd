import type { HashName, Manifest, ManifestEntry } from './manifest.ts';
import { fail, ok, type Result } from '../result.ts';
import { pathRefused } from './mhl.ts';

/** Which hash a bare sum of so many digits is; 16 and 32 digits are told by the name of the list. */
function hashOf(digits: number, listName: string): HashName | null {
  if (digits === 40) return 'sha1';
  if (digits === 16) return /xxh3/i.test(listName) ? 'xxh3' : 'xxh64';
  if (digits === 32) return /xxh|128/i.test(listName) ? 'xxh128' : 'md5';
  return null;
}

/** Reads what `md5sum`, `sha1sum` and `xxhsum` write: `sum  path` a line, or BSD's `MD5 (path) = sum`. */
// eslint-disable-next-line complexity -- one branch for each way that lists of sums are written
export function readSums(text: string, listName: string): Result<Manifest> {
  const entries: ManifestEntry[] = [];
  for (const [index, line] of text
    .replace(/^\ufeff/, '')
    .split(/\r?\n/)
    .entries()) {
    if (line.trim() === '' || line.startsWith('#')) continue;
    // Coreutils puts a backslash before a line whose name holds one, and doubles it.
    const escaped = line.startsWith('\\');
    const gnu = /^\\?(XXH3_)?([0-9a-fA-F]{16,40}) [ *](.+)$/.exec(line);
    const bsd = /^(MD5|SHA1|XXH64|XXH3|XXH128) \((.+)\) = ([0-9a-fA-F]{16,40})$/i.exec(line);
    const name = bsd
      ? (bsd[1]?.toLowerCase() as HashName)
      : gnu
        ? gnu[1]
          ? 'xxh3'
          : hashOf(gnu[2]?.length ?? 0, listName)
        : null;
    if (!name) return fail(`line ${index + 1} is no sum and path`, 'Do not trust this list');
    const named = (bsd?.[2] ?? gnu?.[3] ?? '').replace(/^\.\//, '');
    const path = escaped ? named.replaceAll('\\\\', '\\') : named;
    const refused = pathRefused(path);
    if (refused)
      return fail(`the path ${JSON.stringify(path)} in line ${index + 1} ${refused}`, 'Do not trust this list');
    entries.push({
      path,
      sizeBytes: null,
      modifiedAt: null,
      hashes: { [name]: (bsd?.[3] ?? gnu?.[2] ?? '').toLowerCase() },
      action: 'original',
    });
  }
  return entries.length > 0
    ? ok({ generation: 1, createdAt: '', host: '', tool: '', process: 'in-place', entries })
    : fail('it states no file', 'Leave it aside');
}
