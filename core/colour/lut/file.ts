import { fail, ok, type Result } from '../../result.ts';
import { readCdlFile } from './cdlFile.ts';
import { readClf } from './clf.ts';
import { readCube } from './cube.ts';
import type { LutFile } from './read.ts';

/** Reads a LUT or CDL file by its content; the name's ending decides only where the content does not. */
export function readLutFile(text: string, fileName: string): Result<LutFile> {
  const ending = /\.([a-z0-9]+)$/i.exec(fileName)?.[1]?.toLowerCase() ?? '';
  const start = text
    .slice(0, 4000)
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (start.startsWith('<')) {
    if (!/<(\w+:)?(ColorCorrection|ColorDecision)/.test(start) && (ending === 'clf' || start.includes('ProcessList')))
      return readClf(text);
    const read = readCdlFile(text);
    if (!read.ok) return read;
    const [first] = read.value;
    if (!first) return fail('there is no correction in it', 'Export the file again');
    const warnings =
      read.value.length > 1
        ? [`it holds ${read.value.length} corrections; the first${first.id ? `, ${first.id},` : ''} is taken`]
        : [];
    return ok({
      format: 'cdl',
      title: first.id,
      notes: first.notes,
      warnings,
      ops: [{ op: 'cdl', cdl: first.cdl, reverse: false, clamp: true }],
    });
  }
  if (ending === 'clf' || ending === 'cc' || ending === 'ccc' || ending === 'cdl')
    return fail('line 1: it does not begin as XML', 'It is empty, damaged, or of another kind than its name says');
  if (ending !== 'cube' && !/LUT_[13]D_SIZE/.test(start))
    return fail(
      `${ending ? `.${ending}` : 'a file without an ending'} is no kind of LUT that is read`,
      'Give .cube, .clf, .cc, .ccc or .cdl',
    );
  return readCube(text);
}
