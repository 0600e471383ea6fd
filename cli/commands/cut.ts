import { changesBetween } from '@relay/core/cut/changes';
import { cutCsv } from '@relay/core/cut/csv';
import type { Cut, ReadCut } from '@relay/core/cut/cut';
import { edlCannotSay, writeEdl } from '@relay/core/cut/edl/write';
import { otioCannotSay, writeOtio } from '@relay/core/cut/otio/write';
import type { Result } from '@relay/core/result';
import { formatRate, parseRate } from '@relay/core/time/rate';
import type { Rational } from '@relay/core/time/rational';
import { formatLength, framesToTimecode } from '@relay/core/time/timecode';
import { sayRetime } from '@relay/core/cut/retime';
import { readBytes } from '@relay/work/disk/place';
import { mostListBytes, readList } from '@relay/work/cut/readList';
import { complain, Misuse, printJson } from './output.ts';

export interface CutOptions {
  to?: string;
  rate?: string;
  changes?: boolean;
  json?: boolean;
}

export function rateAsked(text: string | undefined): Rational | null {
  if (text === undefined) return null;
  const rate = parseRate(text);
  if (!rate.ok) throw new Misuse(`${rate.problem.what}. ${rate.problem.remedy}`);
  return rate.value;
}

/** The bytes of an edit list. */
export async function listBytes(path: string): Promise<Buffer> {
  return readBytes(path, mostListBytes).catch((error: Error) => {
    throw new Misuse(`${path} cannot be read: ${error.message}`);
  });
}

/** A list as it was read; what of it could not be taken is said on standard error. */
export function readOrRefused(path: string, read: Result<ReadCut>): Cut {
  if (!read.ok) throw new Misuse(`${path}: ${read.problem.what}. ${read.problem.remedy}`);
  for (const { line, what } of read.value.remarks)
    complain(line === null ? `${path}: ${what}` : `${path}, line ${line}: ${what}`);
  return read.value.cut;
}

async function cutIn(path: string, given: Rational | null): Promise<Cut> {
  return readOrRefused(path, await readList(await listBytes(path), { given }));
}

const writers = {
  edl: { write: (cut: Cut) => writeEdl(cut), cannotSay: (cut: Cut) => edlCannotSay(cut) },
  otio: { write: writeOtio, cannotSay: otioCannotSay },
  csv: { write: cutCsv, cannotSay: (): string[] => [] },
} as const;

/** `relay cut FILE`: reads an edit list, says it, or writes it in another form. */
export async function cutCommand(file: string, newer: string | undefined, options: CutOptions): Promise<number> {
  const given = rateAsked(options.rate);
  if (options.changes !== undefined || newer !== undefined) {
    if (newer === undefined) throw new Misuse('--changes takes two lists: OLD NEW');
    return sayChanges(await cutIn(file, given), await cutIn(newer, given), options);
  }
  const cut = await cutIn(file, given);
  if (options.to !== undefined) {
    if (!Object.hasOwn(writers, options.to))
      throw new Misuse(`--to takes edl, otio or csv, not ${JSON.stringify(options.to)}`);
    const { write, cannotSay } = writers[options.to as keyof typeof writers];
    cannotSay(cut).forEach((one) => complain(`cannot be said in ${options.to}: ${one}`));
    process.stdout.write(write(cut));
  } else if (options.json) printJson(cut);
  else process.stdout.write(`${sayCut(cut).join('\n')}\n`);
  return 0;
}

function label(frames: number, rate: Rational, dropFrame: boolean): string {
  const found = framesToTimecode(frames, rate, dropFrame);
  return found.ok ? found.value.text : String(frames);
}

function sayCut({ title, rate, dropFrame, events, tracks }: Cut): string[] {
  const end = events.reduce((last, { record }) => Math.max(last, record.to), 0);
  const start = events.reduce((first, { record }) => Math.min(first, record.from), end);
  return [
    `${title || 'A cut without a title'}: ${events.length} events on ${tracks.map(({ id }) => id).join(' ') || 'no track'}, ${formatLength(end - start, rate.rate)} at ${formatRate(rate.rate)}`,
    rate.why,
    ...events.map(({ number, tracks: on, record, source, retime, transition }) => {
      const { frames } = source;
      const from = frames ? label(frames.from, source.rate, source.dropFrame) : '--:--:--:--';
      const to = frames ? label(frames.to, source.rate, source.dropFrame) : '--:--:--:--';
      return [
        number.padStart(4),
        `${label(record.from, rate.rate, dropFrame)} ${label(record.to, rate.rate, dropFrame)}`,
        on.join(' ').padEnd(5),
        source.kind === 'media'
          ? `${from} ${to} ${source.reel ?? source.clip ?? source.file ?? 'no name'}`
          : source.kind,
        ...(transition ? [`${transition.kind} of ${transition.frames}`] : []),
        ...(retime ? [sayRetime(retime)] : []),
      ].join('  ');
    }),
  ];
}

function sayChanges(older: Cut, newer: Cut, { json }: CutOptions): number {
  const { changes, newSeconds } = changesBetween(older, newer);
  if (json) printJson({ changes, newSeconds });
  else {
    const said = changes.filter(({ kind }) => kind !== 'same').map(({ kind, what }) => `${kind.padEnd(8)} ${what}`);
    said.push(`${newSeconds.toFixed(2)} s of originals are newly needed`);
    process.stdout.write(`${said.join('\n')}\n`);
  }
  return 0;
}
