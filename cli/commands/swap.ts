import { dirname, extname, resolve } from 'node:path';
import { writeEdl } from '@relay/core/cut/edl/write';
import { writeOtio } from '@relay/core/cut/otio/write';
import { under } from '@relay/core/naming/under';
import { rehearsed } from '@relay/core/relink/rehearsal';
import { filesOfRole, sheetSides } from '@relay/core/relink/sheetSides';
import { pathMapCsv, swapped, type Swap } from '@relay/core/relink/swap';
import type { CutOriginal } from '@relay/core/relink/target';
import { readListFor } from '@relay/work/cut/readList';
import { exists, writeWhole } from '@relay/work/disk/place';
import { listBytes, rateAsked, readOrRefused } from './cut.ts';
import { rowsIn } from './handoff.ts';
import { complain, Misuse, printJson } from './output.ts';

export interface SwapOptions {
  cut: string;
  sheet: string;
  role: string;
  to: string;
  rate?: string;
  json?: boolean;
}

const writers: Readonly<Record<string, (swap: Swap, originals: readonly CutOriginal[]) => string>> = {
  '.otio': ({ cut }) => writeOtio(cut),
  '.edl': ({ cut }) => writeEdl(cut),
  '.csv': (swap, originals) => pathMapCsv(swap, originals),
};

/** `relay swap --cut FILE --sheet relink.json --role intermediate --to FILE`: a cut on the files of another role. */
export async function swapCommand(options: SwapOptions): Promise<number> {
  const write = writers[extname(options.to).toLowerCase()];
  if (!write) throw new Misuse('--to takes a file that ends with .otio, .edl or .csv');
  const sheet = resolve(options.sheet);
  const rows = await rowsIn(sheet);
  const sides = sheetSides(rows);
  const place = new Map(rows.map((row) => [row.output, row.place ?? dirname(sheet)]));
  const files = filesOfRole(sides, options.role, (path) => under(place.get(path) ?? dirname(sheet), path));
  if (files.length === 0) throw new Misuse(`${options.sheet} has no outputs of the role ${options.role}`);
  const { originals, outputs } = sides;
  const read = await readListFor(await listBytes(options.cut), rateAsked(options.rate), originals, outputs);
  const cut = readOrRefused(options.cut, read);
  const { matches } = rehearsed(cut, originals, outputs);
  const swap = swapped(cut, matches, files);
  if (await exists(options.to)) throw new Misuse(`${options.to} is there already`);
  await writeWhole(resolve(options.to), write(swap, originals)).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${options.to} cannot be written (${error.code})`);
  });
  const media = cut.events.filter(({ source }) => source.kind === 'media').length;
  const done = swap.events.filter((event) => event !== null).length;
  const left = swap.left.map(({ event, why }) => ({ event: cut.events[event]?.number ?? '', why }));
  if (options.json) printJson({ events: media, swapped: done, left, paths: swap.paths, to: options.to });
  else {
    left.forEach(({ event, why }) => complain(`event ${event}: ${why}`));
    process.stdout.write(`${options.to}: ${done} of ${media} events are on ${options.role} files\n`);
  }
  return done === media ? 0 : 1;
}
