import { createHash } from 'node:crypto';
import { mkdir, realpath, stat } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, dirname, resolve } from 'node:path';
import { fileSystems, type FileSystem } from '@relay/core/handoff/fileSystem';
import { pairsOf } from '@relay/core/handoff/pairs';
import { textsOf } from '@relay/core/handoff/texts';
import { under } from '@relay/core/naming/under';
import { readRelinkRows } from '@relay/core/relink/readRows';
import { sheetNames, type RelinkRow } from '@relay/core/relink/sheet';
import { sayBytes } from '@relay/core/size/sayBytes';
import { exists, readText } from '@relay/work/disk/place';
import { deliver } from '@relay/work/handoff/deliver';
import type { Delivery } from '@relay/work/handoff/underWay';
import type { ParcelItem } from '@relay/work/handoff/parcel';
import { home } from '../site/home.ts';
import { stopSignal } from './interrupt.ts';
import { complain, endProgress, Misuse, printJson, progressLine } from './output.ts';
import { sayPace } from './pace.ts';

export interface HandoffOptions {
  run?: string;
  sheet?: string;
  to: string;
  roles?: string;
  for?: string;
  name?: string;
  json?: boolean;
}

const mostSheetBytes = 512_000_000;

/** The lines of a relink sheet. @throws Misuse where it is none */
export async function rowsIn(path: string): Promise<RelinkRow[]> {
  const text = await readText(path, mostSheetBytes).catch((error: Error) => {
    throw new Misuse(`${path} cannot be read: ${error.message}`);
  });
  const read = readRelinkRows(text);
  if (!read.ok) throw new Misuse(`${path}: ${read.problem.what}. ${read.problem.remedy}`);
  return read.value;
}

/** Outputs of a sheet, and LUTs that lie beside them, each once. */
async function itemsOf(
  rows: readonly RelinkRow[],
  folder: string,
  before: readonly RelinkRow[],
): Promise<ParcelItem[]> {
  const sent = new Map(before.map(({ output, outputXxh3 }) => [output, outputXxh3]));
  const items = rows.map((row): ParcelItem => ({
    path: row.output,
    kind: 'output',
    sizeBytes: row.outputBytes,
    xxh3: row.outputXxh3 === '' ? null : row.outputXxh3,
    from: { root: folder, path: row.output },
    replaces: sent.get(row.output) ?? null,
  }));
  const luts = new Set(rows.flatMap((row) => row.lut || []));
  for (const path of luts) {
    const facts = await stat(under(folder, path)).catch(() => null);
    items.push({ path, kind: 'lut', sizeBytes: facts?.size ?? 0, xxh3: null, from: { root: folder, path } });
  }
  return items;
}

/** What lies in the folder from an earlier hand-off, by its sheet. */
async function rowsBefore(to: string): Promise<RelinkRow[]> {
  const path = under(to, sheetNames.json);
  if (!(await exists(path))) return [];
  const rows = await rowsIn(path);
  const there = await Promise.all(rows.map(({ output }) => exists(under(to, output))));
  return rows.filter((_, index) => there[index]);
}

/** `relay handoff --run DIR|--sheet relink.json --to DIR [--roles proxy] [--for fs] --json`. */
export async function handoffCommand(options: HandoffOptions): Promise<number> {
  if ((options.run === undefined) === (options.sheet === undefined))
    throw new Misuse('say either --run, a folder of outputs, or --sheet, their relink.json');
  const system = options.for as FileSystem | undefined;
  if (system !== undefined && !fileSystems.includes(system))
    throw new Misuse(`--for takes one of ${fileSystems.join(', ')}`);
  const sheet = resolve(options.sheet ?? under(options.run ?? '', sheetNames.json));
  const all = await rowsIn(sheet);
  const roles = options.roles?.split(',').map((role) => role.trim());
  // A sheet may come from anywhere: what it calls a place is no leave to read there.
  const elsewhere = all.find(({ place }) => place !== undefined && resolve(place) !== dirname(sheet))?.place;
  if (elsewhere !== undefined)
    throw new Misuse(`${sheet} names outputs in ${elsewhere}: take the relink.json that lies in that folder`);
  const rows = roles ? all.filter(({ role }) => roles.includes(role)) : all;
  if (rows.length === 0)
    throw new Misuse(roles ? `${sheet} has no outputs of ${roles.join(', ')}` : `${sheet} has no outputs to hand off`);
  await mkdir(options.to, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
    throw new Misuse(`${options.to} cannot be made (${error.code})`);
  });
  const to = await realpath(options.to);
  if (`${to}/`.startsWith(`${await realpath(dirname(sheet))}/`))
    throw new Misuse('--to lies in the folder of the outputs themselves: take another');
  const name = options.name ?? basename(to);
  const before = await rowsBefore(to);
  const items = await itemsOf(rows, dirname(sheet), before);
  const id = createHash('sha256').update(`${sheet}\n${to}\n${name}`).digest('hex').slice(0, 16);
  const began = performance.now();
  const delivery = await deliver({
    id,
    items,
    texts: (came) =>
      textsOf(
        {
          name,
          production: '',
          receiver: '',
          day: new Date().toISOString().slice(0, 10),
          rows,
          before,
          items,
          replaced: [],
          toDelete: [],
          roots: {},
        },
        came,
      ),
    to: { store: options.to, at: to },
    mark: { receiver: '', called: name, handoffs: [{ id, name, at: new Date().toISOString() }] },
    system: system ?? null,
    journals: under(home, 'journals'),
    host: hostname(),
    signal: stopSignal(),
    onProgress: ({ files, filesDone, bytes, bytesDone }) =>
      progressLine(
        `${filesDone} of ${files} files${sayPace(bytesDone, bytes, performance.now() - began, { unit: 'MB/s', per: 1e6 })}`,
      ),
  });
  endProgress();
  return say(delivery, rows, options);
}

/** Tells what came of it; the exit code. */
function say(delivery: Delivery, rows: readonly RelinkRow[], { to, json }: HandoffOptions): number {
  const swap = pairsOf(rows, 'proxy', 'intermediate');
  const pairs = swap.pairs.length > 0 ? swap : null;
  if (json) printJson({ ...delivery, swap: pairs });
  else {
    for (const { what, remedy } of [...(delivery.problem ? [delivery.problem] : []), ...delivery.problems])
      complain(`${what}. ${remedy}`);
    const bytes = delivery.came.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
    process.stdout.write(
      `${to}: ${delivery.came.length} of ${delivery.files} files proved, ${sayBytes(bytes)}${delivery.readFromDisk ? '' : ', read back from memory only'}\n`,
    );
    if (pairs?.roots)
      process.stdout.write(
        `${pairs.pairs.filter(({ differs }) => differs.length === 0).length} of ${pairs.pairs.length} pairs swap: ${pairs.roots.low || '.'} for ${pairs.roots.high || '.'}\n`,
      );
  }
  return delivery.state === 'proved' ? 0 : 1;
}
