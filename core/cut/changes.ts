import type { Cut, CutEvent, Span } from './cut.ts';
import { framesNeeded } from './needed.ts';
import { toNumber } from '../time/rational.ts';

/**
 * What became of an event between two versions of a cut. *trimmed*: it shows less of its source, *extended*: it shows
 * more, *slipped*: as much, but other frames; *moved*: the same, elsewhere or on other tracks.
 */
export type ChangeKind = 'new' | 'gone' | 'moved' | 'trimmed' | 'extended' | 'slipped' | 'retimed' | 'same';

export interface Change {
  kind: ChangeKind;
  /** The event's place among the older cut's; null where it is new. */
  before: number | null;
  /** And among the newer's; null where it is gone. */
  after: number | null;
  /** In a sentence; empty where nothing changed. */
  what: string;
}

export interface Changes {
  changes: Change[];
  /** Seconds of originals that the newer cut needs and the older did not. */
  newSeconds: number;
}

/** What an event is of, apart from where it lies and what it shows. */
function sourceKey({ source, tracks }: CutEvent): string {
  const kind = tracks.some((id) => id.startsWith('V')) ? 'V' : 'A';
  return JSON.stringify([kind, source.kind, source.reel, source.clip ?? source.file]);
}

/**
 * Holds two versions of a cut against each other. Events of one source are taken as the same where their frames are, then
 * where they lie at one place, then where they show most of the same frames; what is left is new or gone.
 */
export function changesBetween(older: Cut, newer: Cut): Changes {
  const pairs = pairsOf(older, newer);
  const changes: Change[] = [];
  const taken = new Set(pairs.values());
  older.events.forEach((event, before) => {
    if (event.source.kind === 'media' && !taken.has(before))
      changes.push({ kind: 'gone', before, after: null, what: `${nameOf(event)} is no longer in the cut` });
  });
  newer.events.forEach((event, after) => {
    if (event.source.kind !== 'media') return;
    const before = pairs.get(after);
    if (before === undefined) {
      changes.push({ kind: 'new', before: null, after, what: `${nameOf(event)} is new` });
      return;
    }
    changes.push({ before, after, ...changeOf(older.events[before] as CutEvent, event, older, newer) });
  });
  return { changes, newSeconds: newlyNeeded(older, newer) };
}

/** For each event of the newer cut the one of the older that it was. */
function pairsOf(older: Cut, newer: Cut): Map<number, number> {
  const pairs = new Map<number, number>();
  const free = new Set(older.events.keys());
  const shift = newer.start - older.start;
  const shown = ({ source }: CutEvent): string => `${source.frames?.from} ${source.frames?.to}`;
  const take = (after: number, before: number): void => {
    pairs.set(after, before);
    free.delete(before);
  };
  // The same frames at the same place, then anywhere: these are most, and are looked up.
  for (const key of [
    (event: CutEvent, by: number): string => `${sourceKey(event)} ${shown(event)} ${event.record.from + by}`,
    (event: CutEvent): string => `${sourceKey(event)} ${shown(event)}`,
  ]) {
    const known = placesBy(older.events, (event) => key(event, shift), free);
    newer.events.forEach((event, after) => {
      if (event.source.kind !== 'media' || pairs.has(after)) return;
      const before = known.get(key(event, 0))?.shift();
      if (before !== undefined) take(after, before);
    });
  }
  // At the same place, then those that show most of the same.
  for (const alike of [
    (a: CutEvent, b: CutEvent): number =>
      b.record.from - a.record.from === shift ? shared(a.source.frames, b.source.frames) + 1 : 0,
    (a: CutEvent, b: CutEvent): number => shared(a.source.frames, b.source.frames),
  ]) {
    const known = placesBy(older.events, sourceKey, free);
    newer.events.forEach((event, after) => {
      if (event.source.kind !== 'media' || pairs.has(after)) return;
      let best: { index: number; score: number } | null = null;
      for (const index of known.get(sourceKey(event)) ?? []) {
        const score = free.has(index) ? alike(older.events[index] as CutEvent, event) : 0;
        if (score > (best?.score ?? 0)) best = { index, score };
      }
      if (best) take(after, best.index);
    });
  }
  return pairs;
}

/** Events that are still free, by a key, in their order. */
function placesBy(
  events: readonly CutEvent[],
  key: (event: CutEvent) => string,
  free: ReadonlySet<number>,
): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const index of free) {
    const event = events[index] as CutEvent;
    if (event.source.kind !== 'media') continue;
    const all = found.get(key(event));
    if (all) all.push(index);
    else found.set(key(event), [index]);
  }
  return found;
}

function sameSpan(a: Span | null, b: Span | null): boolean {
  return a === null ? b === null : a.from === b?.from && a.to === b.to;
}

function shared(a: Span | null, b: Span | null): number {
  return a && b ? Math.max(0, Math.min(a.to, b.to) - Math.max(a.from, b.from)) : 0;
}

const plural = (count: number): string => `${count} ${count === 1 ? 'frame' : 'frames'}`;

function changeOf(a: CutEvent, b: CutEvent, older: Cut, newer: Cut): Pick<Change, 'kind' | 'what'> {
  const name = nameOf(b);
  if (JSON.stringify(a.retime) !== JSON.stringify(b.retime))
    return { kind: 'retimed', what: `${name} has another speed` };
  const [was, now] = [a.source.frames, b.source.frames];
  if (was && now && !sameSpan(was, now)) {
    const [head, tail] = [was.from - now.from, now.to - was.to];
    const more = head + tail;
    const ends = [
      head !== 0 && `${plural(Math.abs(head))} ${head > 0 ? 'more' : 'fewer'} at its beginning`,
      tail !== 0 && `${plural(Math.abs(tail))} ${tail > 0 ? 'more' : 'fewer'} at its end`,
    ].filter((one) => one !== false);
    const kind = more === 0 ? 'slipped' : more > 0 ? 'extended' : 'trimmed';
    return { kind, what: `${name}: ${ends.join(', ')}` };
  }
  const by = b.record.from - newer.start - (a.record.from - older.start);
  if (by !== 0) return { kind: 'moved', what: `${name} lies ${plural(Math.abs(by))} ${by > 0 ? 'later' : 'earlier'}` };
  if ([...a.tracks].sort().join() !== [...b.tracks].sort().join())
    return { kind: 'moved', what: `${name} is on ${b.tracks.join(' ')} instead of ${a.tracks.join(' ')}` };
  return { kind: 'same', what: '' };
}

function nameOf({ source, number }: CutEvent): string {
  return source.clip ?? source.file?.split(/[/\\]/).at(-1) ?? source.reel ?? `event ${number}`;
}

/** Seconds of each source that the newer cut needs beyond the older. */
function newlyNeeded(older: Cut, newer: Cut): number {
  const had = spansBySource(older);
  let seconds = 0;
  for (const [key, { spans, perSecond }] of spansBySource(newer)) {
    const before = merged(had.get(key)?.spans ?? []);
    for (const span of merged(spans)) {
      const covered = before.reduce((sum, one) => sum + shared(one, span), 0);
      seconds += (span.to - span.from - covered) / perSecond;
    }
  }
  return seconds;
}

function spansBySource(cut: Cut): Map<string, { spans: Span[]; perSecond: number }> {
  const found = new Map<string, { spans: Span[]; perSecond: number }>();
  framesNeeded(cut).forEach((span, index) => {
    const event = cut.events[index] as CutEvent;
    if (!span) return;
    const key = sourceKey(event).slice(4);
    const one = found.get(key) ?? { spans: [], perSecond: toNumber(event.source.rate) };
    one.spans.push(span);
    found.set(key, one);
  });
  return found;
}

/** Spans in order, those that touch or lie over each other as one. */
export function merged(spans: readonly Span[], gap = 0): Span[] {
  const all: Span[] = [];
  for (const span of [...spans].sort((a, b) => a.from - b.from)) {
    const last = all.at(-1);
    if (last && span.from <= last.to + gap) last.to = Math.max(last.to, span.to);
    else all.push({ ...span });
  }
  return all;
}
