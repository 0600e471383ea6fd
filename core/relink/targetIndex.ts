import type { CutSource, Span } from '../cut/cut.ts';
import { nominalFramesPerSecond } from '../time/rate.ts';
import { mayHave } from './fit.ts';
import {
  baseOf,
  labelSeconds,
  loosely,
  targetOf,
  targetOfOutput,
  type CutOriginal,
  type CutOutput,
  type Target,
} from './target.ts';

/** Letters of a reel that programs keep at least: those who share them are looked at. */
const keptLetters = 6;
/** Seconds of the day that are looked up together. */
const binSeconds = 60;
/** Originals of one timecode that are looked at: more need not be told apart. */
const fewOriginals = 4;
/** Files longer than this many bins are looked at for every timecode. */
const mostBins = 24 * 60;

/** Files by what a list may call them. */
export class TargetIndex {
  private readonly reels = new Map<string, Target[]>();
  private readonly names = new Map<string, Target[]>();
  private readonly bases = new Map<string, Target[]>();
  private readonly bins = new Map<number, Target[]>();

  constructor(originals: readonly CutOriginal[], outputs: readonly CutOutput[]) {
    originals.forEach((original, index) => this.add(targetOf(original, index)));
    outputs.forEach((output) => this.add(targetOfOutput(output)));
  }

  private add(target: Target): void {
    // Where nobody set a reel, programs write the file's name for one.
    const keys = new Set([...target.reels, target.stem].map((reel) => loosely(reel).slice(0, keptLetters)));
    for (const key of keys) if (key !== '') put(this.reels, key, target);
    put(this.names, loosely(target.stem), target);
    put(this.bases, baseOf(target.path), target);
    const seconds = labelSeconds(target);
    if (!seconds) return;
    const [first, last] = [Math.floor(seconds.from / binSeconds), Math.floor(seconds.to / binSeconds)];
    for (let bin = first; bin <= last && bin - first < mostBins; bin += 1) put(this.bins, bin, target);
  }

  /** Those whose reel is this one or only looks like it: without its case, marks, ending, or what was cut off. */
  byReel(reel: string): Target[] {
    const wanted = loosely(reel);
    if (wanted === '') return [];
    const alike = this.reels.get(wanted.slice(0, keptLetters)) ?? [];
    return alike.filter(({ reels, stem }) =>
      [...reels, stem].some((one) => one === reel || isAlike(loosely(one), wanted)),
    );
  }

  byName(name: string): Target[] {
    return this.names.get(loosely(name)) ?? [];
  }

  /** Those whose file is called so. */
  byPath(path: string): Target[] {
    return this.bases.get(baseOf(path)) ?? [];
  }

  /** Those whose timecode has the first of some frames, of a few originals at most: enough to say that one is not alone. */
  byTime(source: CutSource, needed: Span): Target[] {
    const second = needed.from / nominalFramesPerSecond(source.rate);
    const found: Target[] = [];
    const originals = new Set<number>();
    for (const target of this.bins.get(Math.floor(second / binSeconds)) ?? []) {
      if (!mayHave(target, source, needed)) continue;
      found.push(target);
      originals.add(target.original);
      if (originals.size >= fewOriginals) break;
    }
    return found;
  }
}

/** Whether of two reels one is the other or the beginning of it. */
function isAlike(one: string, other: string): boolean {
  const short = Math.min(one.length, other.length);
  return one === other || (short >= keptLetters && one.slice(0, short) === other.slice(0, short));
}

function put<Key>(map: Map<Key, Target[]>, key: Key, target: Target): void {
  const all = map.get(key);
  if (all) all.push(target);
  else map.set(key, [target]);
}
