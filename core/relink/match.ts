import type { CutEvent, Span } from '../cut/cut.ts';
import { shownBy } from '../time/frameMap.ts';
import { fits, mayHave, type Fit } from './fit.ts';
import type { Candidate, Grade } from './grade.ts';
import { TargetIndex } from './targetIndex.ts';
import { pathParts, type CutOriginal, type CutOutput, type Target } from './target.ts';
import { differences, sayExact, saySeveral } from './sayMatch.ts';

/** An original that an event might be of. */
export interface Near {
  /** Its place among those that are matched against. */
  original: number;
  /** What differs, in words. */
  differs: string;
}

export interface Match {
  grade: Grade;
  original: number | null;
  /** The output that led to it; null where it was found itself. */
  output: CutOutput | null;
  /** The frames of the original that are needed, from 0; null where they are not known. */
  frames: Span | null;
  why: string;
  /** At most three others, or those that it might be. */
  near: Near[];
}

/** What of an event is looked for. */
interface Look {
  source: CutEvent['source'];
  needed: Span | null;
}

/** Files that an event may mean by what it calls them. */
interface Called {
  byReel: Target[];
  byName: Target[];
  byPath: Target[];
}

const nearest = 3;

/** Finds events of cuts in originals, also through what was made of them. */
export class Matcher {
  private readonly index: TargetIndex;

  constructor(originals: readonly CutOriginal[], outputs: readonly CutOutput[] = []) {
    this.index = new TargetIndex(originals, outputs);
  }

  /**
   * Where an event comes from; `needed` are the frames it needs, counted as its source's are (`framesNeeded`). Black, and
   * what was made in the editing program, is not looked for: null.
   */
  match(event: CutEvent, needed: Span | null): Match | null {
    const { source } = event;
    if (source.kind !== 'media') return null;
    const inPicture = event.tracks.some((track) => track.startsWith('V'));
    const able = (targets: readonly Target[]): Target[] =>
      inPicture ? targets.filter(({ rate }) => rate !== null) : [...targets];
    const called: Called = {
      byReel: able(source.reel === null ? [] : this.index.byReel(source.reel)),
      byName: able(source.clip === null ? [] : this.index.byName(source.clip)),
      byPath: able(source.file === null ? [] : this.index.byPath(source.file)),
    };
    const look = { source, needed };
    const surely = this.surely(look, called);
    if (surely) return surely;
    const inTime = needed ? whole(look, able(this.index.byTime(source, needed))) : [];
    if (source.reel === null) {
      const alone = apart(inTime);
      if (alone.length === 1) return found('timecode', alone[0] as Candidate, 'Only this one has its timecode');
      if (alone.length > 1 && called.byName.length === 0 && called.byPath.length === 0) return several(alone, source);
    }
    return this.nearly(look, called, inTime);
  }

  private surely(look: Look, { byReel, byName, byPath }: Called): Match | null {
    const { source } = look;
    const steps: [Grade, Target[]][] = [
      ['exact', byReel.filter(({ reels }) => reels.includes(source.reel ?? ''))],
      ['name', byReel.filter(({ stem }) => stem === source.reel)],
      ['name', byName.filter((target) => nameIs(source.clip, target))],
      ['path', byPath],
    ];
    for (const [grade, targets] of steps) {
      const told = this.toldApart(whole(look, targets), source);
      const [only] = told;
      if (only && told.length === 1) return found(grade, only, sayExact(grade, only, source));
      if (only) return several(told, source);
    }
    return null;
  }

  /** Of several that answer, those that name and path answer too. */
  private toldApart(candidates: readonly Candidate[], source: CutEvent['source']): Candidate[] {
    let left = [...candidates];
    for (const tells of [
      ({ target }: Candidate): boolean => nameIs(source.clip, target),
      ({ target }: Candidate): boolean => source.file !== null && endsAlike(source.file, target.path) >= 2,
      ({ target }: Candidate): boolean => source.file !== null && endsAlike(source.file, target.path) >= 1,
    ]) {
      if (apart(left).length <= 1) break;
      const told = left.filter(tells);
      if (told.length > 0) left = told;
    }
    if (source.file !== null && apart(left).length > 1) {
      const alike = left.map(({ target }) => endsAlike(source.file ?? '', target.path));
      const most = Math.max(...alike);
      left = left.filter((_, index) => alike[index] === most);
    }
    return apart(left);
  }

  private nearly(look: Look, called: Called, inTime: readonly Candidate[]): Match {
    const { source } = look;
    const [byReel, byName, byPath] = [called.byReel, called.byName, called.byPath].map((targets) =>
      targets.map((target) => ({ target, fit: fits(target, source, look.needed) })),
    ) as [Candidate[], Candidate[], Candidate[]];
    const fitting = (all: readonly Candidate[]): Candidate[] =>
      all.filter(({ fit }) => fit.kind === 'whole' || fit.kind === 'part' || fit.kind === 'other rate');
    // Reels that are only alike, names that are, then a place that is right but for the time.
    const steps = [fitting(byReel), fitting(byName), fitting(byPath)];
    for (const candidates of steps) {
      const best = bestOf(candidates);
      const told = this.toldApart(best, source);
      if (told.length === 1) {
        const [only] = told as [Candidate];
        return { ...found('nearly', only, differences(only, source)), near: others(candidates, only, source) };
      }
      if (told.length > 1) return several(told, source);
    }
    const right = this.toldApart(
      [...byName, ...byPath].filter(
        ({ target }) => nameIs(source.clip, target) || byPath.some((one) => one.target === target),
      ),
      source,
    );
    if (right.length === 1) {
      const [only] = right as [Candidate];
      return { ...found('nearly', only, differences(only, source)), frames: null };
    }
    if (right.length > 1) return several(right, source);
    const near = apart([...inTime, ...byReel].slice(0, 50)).slice(0, nearest);
    return {
      grade: 'none',
      original: null,
      output: null,
      frames: null,
      why: nothing(source, byReel.length > 0),
      near: near.map((one) => ({ original: one.target.original, differs: differences(one, source) })),
    };
  }
}

/** Those of some files that have all that is needed. */
function whole({ source, needed }: Look, targets: readonly Target[]): Candidate[] {
  if (!needed) return [];
  return targets
    .filter((target) => mayHave(target, source, needed))
    .map((target) => ({ target, fit: fits(target, source, needed) }))
    .filter(({ fit }) => fit.kind === 'whole');
}

/** Why nothing was found, where nothing came near. */
function nothing({ reel, clip, file, frames, labels }: CutEvent['source'], hasReel: boolean): string {
  if (frames === null) return labels ? `Its source timecode ${labels.from} does not exist` : 'It says no frames';
  if (hasReel) return `No original of the reel ${reel} has its timecode${labels ? `, ${labels.from}` : ''}`;
  const said = [
    reel !== null && `the reel ${reel}`,
    clip !== null && `the name ${clip}`,
    file !== null && 'its path',
  ].filter((one) => one !== false);
  return said.length > 0
    ? `No original here has ${said.join(', or ')}`
    : 'It says neither reel nor name, and no original has its timecode';
}

/** Whether a clip's name in a list is a file's, with or without its ending. */
function nameIs(clip: string | null, { stem, path }: Target): boolean {
  if (clip === null) return false;
  const name = path.slice(path.lastIndexOf('/') + 1);
  return clip === stem || clip === name;
}

/** How many parts two paths have in common from their end. */
export function endsAlike(a: string, b: string): number {
  const [one, other] = [pathParts(a), pathParts(b)];
  let same = 0;
  while (same < one.length && same < other.length && one.at(-1 - same) === other.at(-1 - same)) same += 1;
  return same;
}

/** One candidate for each original: itself before what was made of it, unless that is another stretch. */
function apart(candidates: readonly Candidate[]): Candidate[] {
  const kept = new Map<number, Candidate>();
  for (const one of candidates) {
    const before = kept.get(one.target.original);
    if (!before || (before.target.output !== null && one.target.output === null)) kept.set(one.target.original, one);
  }
  return [...kept.values()];
}

const order: Record<Fit['kind'], number> = { whole: 0, part: 1, 'other rate': 2, outside: 3, unknown: 4 };

/** Those that fit best. */
function bestOf(candidates: readonly Candidate[]): Candidate[] {
  const best = Math.min(...candidates.map(({ fit }) => order[fit.kind]));
  return candidates.filter(({ fit }) => order[fit.kind] === best);
}

function others(candidates: readonly Candidate[], only: Candidate, source: CutEvent['source']): Near[] {
  return apart(candidates)
    .filter(({ target }) => target.original !== only.target.original)
    .slice(0, nearest)
    .map((one) => ({ original: one.target.original, differs: differences(one, source) }));
}

function found(grade: Grade, { target, fit }: Candidate, why: string): Match {
  return {
    grade,
    original: target.original,
    output: target.output,
    frames: originalFrames(target, fit),
    why,
    near: [],
  };
}

function several(candidates: readonly Candidate[], source: CutEvent['source']): Match {
  return {
    grade: 'several',
    original: null,
    output: null,
    frames: null,
    why: saySeveral(candidates),
    near: candidates
      .slice(0, nearest)
      .map((one) => ({ original: one.target.original, differs: differences(one, source) || one.target.path })),
  };
}

/** Frames of the original: through the map of what was made of it. */
function originalFrames({ output, frames: whole }: Target, { frames }: Fit): Span | null {
  if (!frames || !output) return frames;
  const of = Math.max(whole, 1) * 64;
  const first = shownBy(output.map, frames.from, of);
  const last = shownBy(output.map, Math.max(frames.from, frames.to - 1), of);
  const { from = 0 } = output;
  return { from: from + first.frame, to: from + Math.max(last.frame, last.other?.frame ?? 0) + 1 };
}
