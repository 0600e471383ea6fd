import { quoted, type Remarks } from '../remarks.ts';
import { mediaOf } from './media.ts';
import { objectsOf, rangeOf, schemaOf, textOf, timeOf, type Otio, type TimeRange } from './json.ts';
import { ticksOf } from './ticks.ts';

/** Compositions within compositions are followed as deep as this. */
const deepest = 32;

/** How a transition lies around the cut that it is over, in ticks. */
export interface PlacedTransition {
  before: number;
  after: number;
  type: string;
}

/** A clip, or a gap that is dissolved into, where it lies in the cut. */
export interface Placed {
  item: Otio;
  /** Null for a gap. */
  media: Otio | null;
  /** Which of its media it shows, before anything is trimmed by what it lies in. */
  range: TimeRange;
  /** Ticks of it that what it lies in cuts off its head. */
  trimmed: number;
  /** Ticks from the beginning of the cut, and how long. */
  at: number;
  length: number;
  transition: PlacedTransition | null;
  track: string;
}

export interface FlatTrack {
  id: string;
  kind: 'picture' | 'sound';
  name: string;
}

/** A stretch of a composition's own time, in ticks. */
interface Window {
  from: number;
  to: number;
}

/** Where items are laid out: a composition's own beginning in the cut, what of it is seen, and the track. */
interface Layout {
  at: number;
  window: Window | null;
  id: string;
  depth: number;
}

/** Where one item comes to lie. */
interface Place {
  at: number;
  length: number;
  trimmed: number;
  transition: PlacedTransition | null;
  id: string;
  depth: number;
}

function kindOf(track: Otio): FlatTrack['kind'] | null {
  const kind = textOf(track.kind);
  return kind === 'Video' ? 'picture' : kind === 'Audio' ? 'sound' : null;
}

/** Lays out the tracks of a stack, and of every composition within it, as clips in the time of the cut. */
export class Flattening {
  readonly placed: Placed[] = [];
  readonly tracks: FlatTrack[] = [];
  private readonly lengths = new Map<Otio, number>();
  private readonly unknown = new Set<string>();

  constructor(private readonly remarks: Remarks) {}

  /** A stack in a stretch of the cut: its tracks become the cut's, named on from `within` where it lies in another. */
  stack(stack: Otio, at: number, window: Window | null, within: string, depth: number): void {
    const counts = { picture: 0, sound: 0 };
    for (const child of objectsOf(stack.children)) {
      const kind = schemaOf(child) === 'Track' ? kindOf(child) : 'picture';
      if (kind === null) {
        this.remarks.add(null, `The track ${quoted(textOf(child.name) ?? '')} is neither pictures nor sound: left out`);
        continue;
      }
      counts[kind] += 1;
      const own = `${kind === 'picture' ? 'V' : 'A'}${counts[kind]}`;
      const id = within === '' ? own : within === own ? within : `${within}.${own}`;
      if (!this.tracks.some((one) => one.id === id)) this.tracks.push({ id, kind, name: textOf(child.name) ?? '' });
      if (schemaOf(child) === 'Track') this.track(child, { at, window, id, depth });
      else this.items([child], { at, window, id, depth });
    }
  }

  private track(track: Otio, { at, window, ...place }: Layout): void {
    const range = rangeOf(track.source_range);
    const from = range ? ticksOf(range.start) : 0;
    // A track of which a stretch is taken begins with that.
    const own = range ? { from, to: from + ticksOf(range.duration) } : null;
    const seen = window && { from: window.from + from, to: window.to + from };
    this.items(objectsOf(track.children), {
      ...place,
      at: at - from,
      window: own && seen ? { from: Math.max(own.from, seen.from), to: Math.min(own.to, seen.to) } : (own ?? seen),
    });
  }

  /** Items one after the other; what lies outside the window is cut off. */
  private items(children: readonly Otio[], { at, window, id, depth }: Layout): void {
    let cursor = 0;
    let transition: PlacedTransition | null = null;
    for (const child of children) {
      if (schemaOf(child) === 'Transition') {
        transition = this.transition(child);
        continue;
      }
      const length = this.lengthOf(child, depth);
      const from = Math.max(cursor, window?.from ?? cursor);
      const to = Math.min(cursor + length, window?.to ?? Infinity);
      if (to > from || length === 0)
        this.item(child, { at: at + from, length: to - from, trimmed: from - cursor, transition, id, depth });
      transition = null;
      cursor += length;
    }
  }

  private item(child: Otio, place: Place): void {
    const { at, length, trimmed, transition, id } = place;
    if (child.enabled === false) {
      this.remarks.add(null, `${quoted(textOf(child.name) ?? 'a clip')} on ${id} is switched off: left out`);
      return;
    }
    switch (schemaOf(child)) {
      case 'Clip': {
        const media = mediaOf(child);
        const range = rangeOf(child.source_range) ?? rangeOf(media?.available_range);
        if (range) this.placed.push({ item: child, media, range, trimmed, at, length, transition, track: id });
        else this.remarks.add(null, `${quoted(textOf(child.name) ?? 'a clip')} on ${id} says no frames: left out`);
        return;
      }
      case 'Gap': {
        const range = rangeOf(child.source_range);
        if (transition && range)
          this.placed.push({ item: child, media: null, range, trimmed, at, length, transition, track: id });
        return;
      }
      case 'Stack':
      case 'Track':
        this.composition(child, place);
        return;
      default:
        this.passedOver(child);
    }
  }

  private composition(child: Otio, { at, length, trimmed, id, depth }: Place): void {
    if (depth >= deepest) {
      this.remarks.add(null, `Compositions lie in each other deeper than ${deepest}: what is deeper is left out`);
      return;
    }
    if (objectsOf(child.effects).length > 0)
      this.remarks.add(null, `Effects on the composition ${quoted(textOf(child.name) ?? '')} are passed over`);
    const own = rangeOf(child.source_range);
    const from = (own ? ticksOf(own.start) : 0) + trimmed;
    const window = { from, to: from + length };
    if (schemaOf(child) === 'Track')
      this.items(objectsOf(child.children), { at: at - from, window, id, depth: depth + 1 });
    else this.stack({ ...child, source_range: null }, at - from, window, id, depth + 1);
  }

  private transition(child: Otio): PlacedTransition {
    const [before, after] = [timeOf(child.in_offset), timeOf(child.out_offset)];
    return {
      before: before ? ticksOf(before) : 0,
      after: after ? ticksOf(after) : 0,
      type: textOf(child.transition_type) ?? '',
    };
  }

  private passedOver(child: Otio): void {
    const schema = textOf(child.OTIO_SCHEMA) ?? 'an object without a schema';
    if (this.unknown.has(schema)) return;
    this.unknown.add(schema);
    this.remarks.add(null, `${quoted(schema)} is not known here: passed over, with what lies in it`);
  }

  /** Ticks that an item takes in the composition that it lies in. */
  private lengthOf(item: Otio, depth: number): number {
    const range = rangeOf(item.source_range);
    if (range) return ticksOf(range.duration);
    const known = this.lengths.get(item);
    if (known) return known;
    let length = 0;
    const schema = schemaOf(item);
    if (schema === 'Clip') {
      const available = rangeOf(mediaOf(item)?.available_range);
      if (available) length = ticksOf(available.duration);
    } else if (depth < deepest && (schema === 'Track' || schema === 'Stack'))
      for (const child of objectsOf(item.children)) {
        if (schemaOf(child) === 'Transition') continue;
        const one = this.lengthOf(child, depth + 1);
        length = schema === 'Track' ? length + one : Math.max(length, one);
      }
    this.lengths.set(item, length);
    return length;
  }
}
