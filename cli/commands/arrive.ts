import { mkdir, realpath, stat } from 'node:fs/promises';
import { hostname } from 'node:os';
import { resolve } from 'node:path';
import { under } from '@relay/core/naming/under';
import { usualCopyRule } from '@relay/core/custody/clearing';
import { rollNameProblem } from '@relay/core/custody/rollName';
import { hashNames, type HashName } from '@relay/core/custody/manifest';
import { arrive } from '@relay/work/arrive/arrive';
import { verifyFolder } from '@relay/work/custody/verify';
import { home } from '../site/home.ts';
import { stopSignal } from './interrupt.ts';
import { Pace, sayPace } from './pace.ts';
import { complain, endProgress, Misuse, printJson, progressLine } from './output.ts';

export interface ArriveOptions {
  from: string;
  to: string[];
  roll: string;
  hash: string;
  md5?: boolean;
  copies?: string;
  oneDisk?: boolean;
  json?: boolean;
}

/** `relay arrive --from DIR --to DIR [--to DIR] --roll NAME [--hash xxh128|xxh64|md5] [--md5] [--copies N] [--one-disk] --json`. */
export async function arriveCommand(values: ArriveOptions): Promise<number> {
  const { to } = values;
  const problem = rollNameProblem(values.roll);
  if (problem) throw new Misuse(`${JSON.stringify(values.roll)} cannot be a roll's name: ${problem}`);
  const hash = values.hash as HashName;
  if (!hashNames.includes(hash)) throw new Misuse(`--hash takes one of ${hashNames.join(', ')}`);
  const copies = Number(values.copies ?? usualCopyRule.copies);
  if (!Number.isInteger(copies) || copies < 1 || copies > 9) throw new Misuse('--copies takes a number from 1 to 9');
  if (!(await stat(values.from).catch(() => null))?.isDirectory()) throw new Misuse(`${values.from} is not a folder`);
  const roots = await Promise.all(
    to.map(async (folder) => {
      await mkdir(folder, { recursive: true }).catch((error: NodeJS.ErrnoException) => {
        throw new Misuse(`${folder} cannot be made (${error.code})`);
      });
      return realpath(folder);
    }),
  );
  if (new Set(roots).size < roots.length) throw new Misuse('the destinations must be different folders');

  const began = performance.now();
  const result = await arrive({
    roll: values.roll,
    card: await realpath(values.from),
    journals: under(home, 'journals'),
    hash,
    alsoMd5: values.md5 ?? false,
    rule: { copies, stores: copies, oneDisk: values.oneDisk ?? false },
    owner: `arrival.${hostname()}.${process.pid}`,
    host: hostname(),
    signal: stopSignal(),
    destinations: roots.map((root, index) => ({
      store: to[index] as string,
      at: { root, folder: values.roll },
    })),
    onProgress: ({ files, filesDone, bytes, bytesDone }) =>
      progressLine(
        `${filesDone} of ${files} files, ${Math.floor((100 * bytesDone) / Math.max(1, bytes))} %${sayPace(bytesDone, bytes, performance.now() - began, { unit: 'MB/s', per: 1e6 })}`,
      ),
  });
  endProgress();
  if (values.json) printJson(result);
  else {
    for (const copy of result.copies)
      process.stdout.write(
        `${copy.folder}: ${copy.problem ? `${copy.problem.what}. ${copy.problem.remedy}` : `${copy.filesProved} of ${result.files} files proved${copy.readFromDisk ? '' : ', read back from memory only'}`}\n`,
      );
    process.stdout.write(`${result.clearing.says}\n`);
    result.clearing.against.slice(1).forEach((reason) => process.stdout.write(`  also: ${reason}\n`));
  }
  return result.state === 'proved' ? 0 : 1;
}

/** `relay verify DIR [--no-record] --json`: exit code 1 when anything differs. */
export async function verifyCommand(folder: string, values: { record: boolean; json?: boolean }): Promise<number> {
  if (!(await stat(folder).catch(() => null))?.isDirectory()) throw new Misuse(`${folder} is not a folder`);
  const pace = new Pace('Verifying');
  const found = await verifyFolder(resolve(folder), {
    record: values.record,
    signal: stopSignal(),
    onProgress: (done, total) => pace.at(done, total),
  });
  endProgress();
  if (values.json) printJson(found);
  else if (found.problem) complain(`${found.problem.what}. ${found.problem.remedy}`);
  else {
    for (const path of found.missing) process.stdout.write(`missing  ${path}\n`);
    for (const { path, why } of found.changed) process.stdout.write(`changed  ${path}: ${why}\n`);
    for (const path of found.extra) process.stdout.write(`extra    ${path}\n`);
    for (const { path, why } of found.unread) process.stdout.write(`unread   ${path}: ${why}\n`);
    for (const { file, why } of found.doubts) process.stdout.write(`doubtful ${file}: ${why}\n`);
    process.stdout.write(
      `${found.verified ? 'Verified' : 'Differs'}: ${found.same} of ${found.files} files are as ${found.manifest ?? ''} states\n`,
    );
  }
  return found.verified ? 0 : 1;
}
