import { basename, resolve } from 'node:path';
import type { CutEvent } from '@relay/core/cut/cut';
import type { BatchClip } from '@relay/core/recipe/batch';
import { under } from '@relay/core/naming/under';
import { isFound, type Grade } from '@relay/core/relink/grade';
import type { Match } from '@relay/core/relink/match';
import { outputsAmong } from '@relay/core/relink/readSheet';
import { rehearsed } from '@relay/core/relink/rehearsal';
import type { CutOriginal, CutOutput } from '@relay/core/relink/target';
import { cutOriginalOf } from '@relay/work/cut/originals';
import { mostListBytes, readListFor, readSheetOf } from '@relay/work/cut/readList';
import { readBytes } from '@relay/work/disk/place';
import { filesBelow } from '@relay/work/disk/walk';
import { readFolder } from '@relay/work/read/readFolder';
import { listBytes, rateAsked, readOrRefused } from './cut.ts';
import { complain, endProgress, Misuse, printJson } from './output.ts';
import { Pace } from './pace.ts';
import { batchClipOf } from './source.ts';

export interface RehearseOptions {
  cut: string;
  media: string[];
  sheet?: string;
  rate?: string;
  json?: boolean;
}

/** An event of the answer: where it was found, before handles. */
interface EventAnswer {
  event: string;
  line: number | null;
  tracks: string[];
  grade: Grade;
  original: string | null;
  /** Frames of the original from 0, `to` not among them. */
  from: number | null;
  to: number | null;
  /** The output that led to it, by its path in the relink sheet. */
  through: string | null;
  why: string;
  near: { original: string; differs: string }[];
}

/** An original below a folder that was given, with the files that belong to it, by their paths below that. */
export interface OriginalBelow extends CutOriginal {
  folder: string;
  files: string[];
  /** It as a run is handed it, its paths below the folder. */
  batch: BatchClip;
}

const wholeOf = (folder: string): string => basename(resolve(folder));

/** Originals below folders, as cuts are matched against them; their paths begin with the folder as it was given. */
export async function originalsBelow(folders: readonly string[]): Promise<OriginalBelow[]> {
  const originals: OriginalBelow[] = [];
  const pace = new Pace('Reading');
  for (const folder of folders) {
    const found = await filesBelow(folder).catch((error: Error) => {
      throw new Misuse(`${folder} cannot be read: ${error.message}`);
    });
    found.unseen.forEach((entry) => complain(`${entry.shownPath}: ${entry.why}`));
    const { clips } = await readFolder(found.files, (done) => pace.at(done, found.files.length));
    originals.push(
      ...clips.map(({ clip, identity, sidecars }) => ({
        ...cutOriginalOf(clip, identity.reel),
        path: under(folder, clip.path),
        folder,
        files: [clip.path, ...clip.chapters.map(({ path }) => path), ...sidecars],
        batch: batchClipOf({ ...clip, reel: identity.reel }, identity, wholeOf(folder), wholeOf(folder)),
      })),
    );
  }
  endProgress();
  return originals;
}

/** What was made of originals, by a relink sheet. */
export async function outputsOf(sheet: string | undefined, originals: readonly CutOriginal[]): Promise<CutOutput[]> {
  if (sheet === undefined) return [];
  const bytes = await readBytes(sheet, 2 * mostListBytes).catch((error: Error) => {
    throw new Misuse(`${sheet} cannot be read: ${error.message}`);
  });
  const read = await readSheetOf(bytes);
  if (!read.ok) throw new Misuse(`${sheet}: ${read.problem.what}. ${read.problem.remedy}`);
  read.value.remarks.forEach((one) => complain(`${sheet}: ${one}`));
  const outputs = outputsAmong(read.value.outputs, originals);
  const lost = read.value.outputs.length - outputs.length;
  if (lost > 0) complain(`${sheet}: the originals of ${lost} of its ${read.value.outputs.length} outputs are not here`);
  return outputs;
}

/** `relay rehearse`: tries an edit list against originals. Exit code 0 where every event is found. */
export async function rehearseCommand({ cut: list, media, sheet, rate, json }: RehearseOptions): Promise<number> {
  const given = rateAsked(rate);
  const bytes = await listBytes(list);
  const originals = await originalsBelow(media);
  const outputs = await outputsOf(sheet, originals);
  const cut = readOrRefused(list, await readListFor(bytes, given, originals, outputs));
  const { matches, counts } = rehearsed(cut, originals, outputs);
  const answers = cut.events.flatMap((event, index) => {
    const match = matches[index];
    return match ? [answerOf(event, match, originals)] : [];
  });
  if (json) printJson(answers);
  else {
    for (const answer of answers) process.stdout.write(`${sayAnswer(answer)}\n`);
    const said = Object.entries(counts)
      .filter(([, count]) => count > 0)
      .map(([grade, count]) => `${count} ${grade}`);
    process.stdout.write(`${answers.length} events: ${said.join(', ') || 'none'}. ${cut.rate.why}\n`);
  }
  return answers.every(({ grade }) => isFound(grade)) ? 0 : 1;
}

function answerOf(event: CutEvent, match: Match, originals: readonly CutOriginal[]): EventAnswer {
  const pathOf = (index: number): string => originals[index]?.path ?? '';
  return {
    event: event.number,
    line: event.line,
    tracks: event.tracks,
    grade: match.grade,
    original: match.original === null ? null : pathOf(match.original),
    from: match.frames?.from ?? null,
    to: match.frames?.to ?? null,
    through: match.output?.path ?? null,
    why: match.why,
    near: match.near.map(({ original, differs }) => ({ original: pathOf(original), differs })),
  };
}

function sayAnswer({ event, grade, original, from, to, why, near }: EventAnswer): string {
  const where = original === null ? '' : ` ${original}${from === null ? '' : `, frames ${from} to ${to}`}`;
  const beside = isFound(grade)
    ? []
    : near.map((one) => `      near: ${one.original}${one.differs ? `: ${one.differs}` : ''}`);
  return [`${event.padStart(4)} ${grade.padEnd(8)}${where}`, `      ${why}`, ...beside].join('\n');
}
