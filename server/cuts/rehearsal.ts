import type { ChangesAnswer, eventAnswer, RehearsalAnswer } from '@relay/contract/cuts';
import { changesBetween } from '@relay/core/cut/changes';
import type { Cut, CutEvent } from '@relay/core/cut/cut';
import { framesNeeded } from '@relay/core/cut/needed';
import { sayRetime } from '@relay/core/cut/retime';
import { answerKey, type CutAnswer } from '@relay/core/relink/answers';
import { fits } from '@relay/core/relink/fit';
import type { Match } from '@relay/core/relink/match';
import { rehearsed, type Rehearsal } from '@relay/core/relink/rehearsal';
import { targetOf } from '@relay/core/relink/target';
import { formatRate } from '@relay/core/time/rate';
import type { Rational } from '@relay/core/time/rational';
import { formatLength, framesToTimecode } from '@relay/core/time/timecode';
import { LessThan, type DataSource } from 'typeorm';
import type { z } from 'zod';
import { cutAnswer, cutVersion } from '../db/entities/cuts.ts';
import { notThere, Refused } from '../http.ts';
import { versionLine, versionOf, versionsOf } from './cuts.ts';
import { originalsOf, outputsOf, type KnownOriginal } from './originals.ts';

async function answersOf(db: DataSource, cut: string, originals: readonly KnownOriginal[]): Promise<CutAnswer[]> {
  const places = new Map(originals.map(({ clip }, index) => [clip, index]));
  const rows = await db.manager.find(cutAnswer, { where: { cutId: cut }, order: { at: 'DESC' } });
  return rows.map(({ source, firstFrame, lastFrame, clipId, atFrame }) => ({
    key: source,
    source: { from: firstFrame, to: lastFrame },
    original: places.get(clipId) ?? null,
    at: atFrame,
  }));
}

function label(frames: number, rate: Rational, dropFrame: boolean): string {
  const found = framesToTimecode(frames, rate, dropFrame);
  return found.ok ? found.value.text : '';
}

/** A version of a cut with what became of each of its events. */
export interface TriedVersion extends Rehearsal {
  version: Awaited<ReturnType<typeof versionOf>>;
  originals: KnownOriginal[];
}

/** Tries a version of a cut against all originals of its production, and what was made of them. */
export async function tryVersion(db: DataSource, id: string): Promise<TriedVersion> {
  const version = await versionOf(db, id);
  const originals = await originalsOf(db, version.of.productionId);
  const [outputs, answers] = await Promise.all([
    outputsOf(db, version.of.productionId, originals),
    answersOf(db, version.of.id, originals),
  ]);
  return { version, originals, ...rehearsed(version.read.cut, originals, outputs, answers) };
}

/** Clips that a version of a cut uses, as far as they were found. */
export async function clipsUsedBy(db: DataSource, version: string): Promise<Set<string>> {
  const { matches, originals } = await tryVersion(db, version);
  return new Set(matches.flatMap((match) => originals[match?.original ?? -1]?.clip ?? []));
}

/** A version of a cut tried against all originals of its production and what was made of them. */
export async function rehearsalOf(db: DataSource, id: string): Promise<RehearsalAnswer> {
  const { version, originals, matches, counts } = await tryVersion(db, id);
  const { cut, remarks } = version.read;
  const end = cut.events.reduce((last, { record }) => Math.max(last, record.to), cut.start);
  return {
    cut: { id: version.of.id, name: version.of.name },
    version: versionLine(version),
    versions: await versionsOf(db, version.of.id),
    title: cut.title,
    rate: formatRate(cut.rate.rate),
    rateWhy: cut.rate.why,
    record: { from: cut.start, to: end },
    length: formatLength(end - cut.start, cut.rate.rate),
    tracks: cut.tracks,
    markers: cut.markers,
    remarks,
    counts,
    events: cut.events.map((event, index) => ({
      index,
      ...listed(cut, event),
      ...tried(matches[index] ?? null, originals),
    })),
  };
}

/** An event as the list says it. */
function listed(cut: Cut, { source, record, retime, transition, ...event }: CutEvent) {
  const { frames, labels, rate, dropFrame } = source;
  return {
    number: event.number,
    line: event.line,
    tracks: event.tracks,
    comments: event.comments,
    kind: source.kind,
    record,
    recordIn: label(record.from, cut.rate.rate, cut.dropFrame),
    recordOut: label(record.to, cut.rate.rate, cut.dropFrame),
    reel: source.reel,
    clip: source.clip,
    file: source.file,
    sourceIn: labels?.from ?? (frames ? label(frames.from, rate, dropFrame) : null),
    sourceOut: labels?.to ?? (frames ? label(frames.to, rate, dropFrame) : null),
    speed: retime ? sayRetime(retime) : null,
    transition: transition ? `${transition.kind} of ${transition.frames}` : null,
  };
}

/** What became of it. */
function tried(match: Match | null, originals: readonly KnownOriginal[]) {
  const original = originals[match?.original ?? -1];
  return {
    grade: match?.grade ?? null,
    original: original ? { clip: original.clip, stem: original.stem, path: original.path } : null,
    frames: match?.frames ?? null,
    through: match?.output?.path ?? null,
    why: match?.why ?? '',
    near: (match?.near ?? []).flatMap(({ original: place, differs }) => {
      const near = originals[place];
      return near ? [{ clip: near.clip, stem: near.stem, path: near.path, differs }] : [];
    }),
  };
}

/** Keeps what somebody says of an event, for this version and later ones; without a clip it is taken back. */
export async function sayEvent(
  db: DataSource,
  id: string,
  { event: index, clip, at }: z.output<typeof eventAnswer>,
  who: string,
): Promise<string> {
  const version = await versionOf(db, id);
  const event = version.read.cut.events[index];
  if (event?.source.kind !== 'media') throw notThere('The event');
  const source = answerKey(event);
  const frames = event.source.frames ?? { from: 0, to: 0 };
  const about = { cutId: version.of.id, source };
  if (clip === null) {
    const rows = await db.manager.findBy(cutAnswer, about);
    const over = rows.filter(({ firstFrame, lastFrame }) => firstFrame < frames.to && frames.from < lastFrame);
    // Where it holds by an answer about another stretch of its source, that one goes.
    for (const { firstFrame } of over.length > 0 ? over : rows)
      await db.manager.delete(cutAnswer, { ...about, firstFrame });
    return version.of.productionId;
  }
  const originals = await originalsOf(db, version.of.productionId);
  const original = originals.findIndex((one) => one.clip === clip);
  const known = originals[original];
  if (!known) throw notThere('The clip');
  const [needed] = framesNeeded({ ...version.read.cut, events: [event] });
  // Where nobody says a frame: by its timecode where that fits, else its first.
  const fit = fits(targetOf(known, original), event.source, needed ?? null);
  const atFrame = at ?? fit.frames?.from ?? 0;
  if (known.rate && atFrame >= known.frames)
    throw new Refused(400, { what: `${known.path} has ${known.frames} frames`, remedy: 'Say a frame that it has' });
  await db.manager.upsert(
    cutAnswer,
    { ...about, firstFrame: frames.from, lastFrame: frames.to, clipId: clip, atFrame, who, at: new Date() },
    ['cutId', 'source', 'firstFrame'],
  );
  return version.of.productionId;
}

/** A version held against the one before it; null for the first. */
export async function changesOf(db: DataSource, id: string): Promise<ChangesAnswer | null> {
  const after = await versionOf(db, id);
  const before = await db.manager.findOne(cutVersion, {
    where: { cutId: after.of.id, number: LessThan(after.number) },
    order: { number: 'DESC' },
  });
  if (!before) return null;
  return {
    before: versionLine(before),
    after: versionLine(after),
    ...changesBetween(before.read.cut, after.read.cut),
  };
}
