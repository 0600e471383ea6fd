import { fail, ok, type Result } from '../../result.ts';
import { formatRate } from '../../time/rate.ts';
import { divide, formatFraction, multiply, type Rational } from '../../time/rational.ts';
import type { Cut, CutEvent, CutMarker, ReadCut, Retime } from '../cut.ts';
import type { RateAsked } from '../rate.ts';
import { quoted, Remarks } from '../remarks.ts';
import { framesWithin, retimeOf, speedOf } from '../retime.ts';
import { Flattening, type Placed } from './flatten.ts';
import {
  fractionOf,
  isObject,
  metadataOf,
  objectsOf,
  rangeOf,
  schemaOf,
  textOf,
  timeOf,
  type Otio,
  type RationalTime,
} from './json.ts';
import { commentsIn, sourceOf } from './media.ts';
import { framesOfTicks, ticksOf } from './ticks.ts';

/** Lists hold no more than these. */
const most = { letters: 200_000_000, events: 200_000 } as const;

/**
 * Reads OpenTimelineIO's JSON (the project's published schema: Timeline, Stack, Track, Clip 1 and 2, Gap, Transition,
 * LinearTimeWarp, FreezeFrame, references, markers; from memory, the schema lies in no registry here). What is not known
 * is passed over and remarked on. Fails where there is no timeline in it.
 */
export function readOtio(text: string, asked: RateAsked): Result<ReadCut> {
  if (text.length > most.letters) return fail('The list is larger than 200 MB', 'Export the cut in parts');
  let root: unknown;
  try {
    root = JSON.parse(text.startsWith('\uFEFF') ? text.slice(1) : text);
  } catch (error) {
    return fail(`It is no JSON: ${(error as Error).message.slice(0, 120)}`, 'Export the cut again');
  }
  const remarks = new Remarks();
  const timeline = timelineIn(root, remarks);
  if (!timeline)
    return fail('There is no OpenTimelineIO timeline in it', 'Export the cut as OpenTimelineIO JSON or as CMX 3600');
  const stack = isObject(timeline.tracks) ? timeline.tracks : timeline;
  const flat = new Flattening(remarks);
  const within = rangeOf(stack.source_range);
  const from = within ? ticksOf(within.start) : 0;
  flat.stack(stack, -from, within && { from, to: from + ticksOf(within.duration) }, '', 0);
  if (flat.placed.length > most.events)
    remarks.add(null, `Of ${flat.placed.length} clips the first ${most.events} are read`);
  const rate = rateOf(timeline, flat.placed, asked);
  if (!rate) return fail('No clip of the timeline says a rate', 'Export the cut again');
  const reader = new Laying(rate, remarks, startOf(timeline, rate.rate));
  const events = flat.placed.slice(0, most.events).flatMap((placed, index) => reader.event(placed, index) ?? []);
  const used = new Set(events.flatMap(({ tracks }) => tracks));
  const cut: Cut = {
    title: textOf(timeline.name) ?? '',
    rate,
    dropFrame: false,
    start: reader.start,
    tracks: flat.tracks.filter(({ id }) => used.has(id)),
    events,
    markers: [...reader.markers, ...reader.markersOn(stack)],
    comments: commentsIn(metadataOf(timeline)),
    ...(metadataOf(timeline) ? { metadata: metadataOf(timeline) } : {}),
  };
  return ok({ cut, remarks: remarks.said() });
}

/** The timeline of a file: itself, or the first in a collection; a stack is one without a name. */
function timelineIn(root: unknown, remarks: Remarks): Otio | null {
  if (!isObject(root)) return null;
  const schema = schemaOf(root);
  if (schema === 'Timeline' || schema === 'Stack') return root;
  if (schema === 'Track') return { OTIO_SCHEMA: 'Stack.1', name: root.name, children: [root] };
  if (schema !== 'SerializableCollection') return null;
  const [first, ...others] = objectsOf(root.children).filter((one) => schemaOf(one) === 'Timeline');
  if (others.length > 0) remarks.add(null, `The file holds ${others.length + 1} timelines: the first is read`);
  return first ?? null;
}

function startOf(timeline: Otio, rate: Rational): number {
  const start = timeOf(timeline.global_start_time);
  return start ? framesOfTicks(ticksOf(start), rate).frames : 0;
}

/** The rate of the cut: that of its start, else the commonest that lengths are counted in, of pictures before sound. */
function rateOf(timeline: Otio, placed: readonly Placed[], { given }: RateAsked): Cut['rate'] | null {
  const start = timeOf(timeline.global_start_time);
  if (start)
    return { rate: start.rate, known: 'stated', why: `The timeline states ${formatRate(start.rate)} for its start` };
  const pictures = placed.filter(({ track }) => track.startsWith('V'));
  const counts = new Map<string, { rate: Rational; count: number }>();
  for (const { range } of pictures.length > 0 ? pictures : placed) {
    const { rate } = range.duration;
    const one = counts.get(formatFraction(rate)) ?? { rate, count: 0 };
    counts.set(formatFraction(rate), { rate, count: one.count + 1 });
  }
  const [commonest] = [...counts.values()].sort((a, b) => b.count - a.count);
  if (given)
    return {
      rate: given,
      known: 'given',
      why: `The timeline states no rate of its own; ${formatRate(given)} was given`,
    };
  return commonest
    ? {
        rate: commonest.rate,
        known: 'stated',
        why: `Most of its clips are counted at ${formatRate(commonest.rate)}`,
      }
    : null;
}

class Laying {
  readonly markers: CutMarker[] = [];
  private readonly effects = new Set<string>();
  private saidBetween = false;

  constructor(
    private readonly rate: Cut['rate'],
    private readonly remarks: Remarks,
    readonly start: number,
  ) {}

  private frames(ticks: number, where: string): number {
    const { frames, whole } = framesOfTicks(ticks, this.rate.rate);
    if (!whole && !this.saidBetween) {
      this.saidBetween = true;
      this.remarks.add(
        null,
        `${where} begins or ends between two frames of ${formatRate(this.rate.rate)}: the nearest is taken`,
      );
    }
    return frames;
  }

  /** A clip as an event; null, with a remark, where its times are beyond what can be counted. */
  event(placed: Placed, index: number): CutEvent | null {
    try {
      return this.laid(placed, index);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.remarks.add(
        null,
        `${quoted(textOf(placed.item.name) ?? 'a clip')} has times that cannot be counted: left out`,
      );
      return null;
    }
  }

  private laid(placed: Placed, index: number): CutEvent {
    const { item, media, range, trimmed, at, length, transition, track } = placed;
    const where = `${quoted(textOf(item.name) ?? 'a clip')} on ${track}`;
    const from = this.start + this.frames(at, where);
    const record = { from, to: this.start + this.frames(at + length, where) };
    const retime = this.retimeOf(item, where);
    const { rate } = range.start;
    const isMedia = schemaOf(item) === 'Clip';
    const source = isMedia ? sourceOf(item, media) : blackSource;
    // Frames of the source that go by in one of the cut.
    const perFrame = divide(rate, this.rate.rate);
    const first = Math.floor(range.start.value.num / range.start.value.den);
    const into = framesOfTicks(trimmed, rate).frames;
    const skipped = Math.floor((into * Math.abs(speedOf(retime).num)) / speedOf(retime).den);
    const shown =
      retime?.kind === 'freeze' ? 1 : framesWithin(record.to - record.from, multiply(speedOf(retime), perFrame));
    const begin = first + skipped;
    const event: CutEvent = {
      number: String(index + 1).padStart(3, '0'),
      line: null,
      tracks: [track],
      record,
      recordLabels: null,
      source: {
        ...source,
        rate,
        frames: source.kind === 'media' ? { from: begin, to: begin + (record.to > record.from ? shown : 0) } : null,
      },
      retime,
      transition: transition && {
        kind: /dissolve/i.test(transition.type) || transition.type === '' ? 'dissolve' : 'wipe',
        frames: this.frames(transition.before + transition.after, where),
        before: this.frames(transition.before, where),
        code: /^SMPTE_Dissolve$/.test(transition.type) || transition.type === '' ? null : transition.type,
      },
      comments: commentsIn(metadataOf(item)),
      ...(metadataOf(item) ? { metadata: metadataOf(item) } : {}),
    };
    if (isMedia) this.markersOf(item, event, placed);
    return event;
  }

  private retimeOf(item: Otio, where: string): Retime | null {
    let speed = 1;
    for (const effect of objectsOf(item.effects)) {
      const schema = schemaOf(effect);
      if (schema === 'FreezeFrame') speed = 0;
      else if (
        schema === 'LinearTimeWarp' &&
        typeof effect.time_scalar === 'number' &&
        Math.abs(effect.time_scalar) < 1e4
      )
        speed *= effect.time_scalar;
      else if (!this.effects.has(schema)) {
        this.effects.add(schema);
        this.remarks.add(
          null,
          `The effect ${quoted(textOf(effect.OTIO_SCHEMA) ?? '')} is not known: passed over, first on ${where}`,
        );
      }
    }
    return retimeOf(fractionOf(speed));
  }

  private markersOf(item: Otio, { record, tracks }: CutEvent, { range, trimmed }: Placed): void {
    for (const marker of objectsOf(item.markers).slice(0, 1_000)) {
      const marked = rangeOf(marker.marked_range);
      if (!marked) continue;
      const into = ticksOf(marked.start) - ticksOf(range.start) - trimmed;
      this.mark(marker, record.from + framesOfTicks(into, this.rate.rate).frames, marked.duration, tracks[0] ?? null);
    }
  }

  /** Markers on the whole. */
  markersOn(stack: Otio): CutMarker[] {
    const before = this.markers.length;
    for (const marker of objectsOf(stack.markers).slice(0, 10_000)) {
      const marked = rangeOf(marker.marked_range);
      if (marked)
        this.mark(
          marker,
          this.start + framesOfTicks(ticksOf(marked.start), this.rate.rate).frames,
          marked.duration,
          null,
        );
    }
    return this.markers.splice(before);
  }

  private mark(marker: Otio, at: number, duration: RationalTime, track: string | null): void {
    this.markers.push({
      at,
      frames: framesOfTicks(ticksOf(duration), this.rate.rate).frames,
      text: [textOf(marker.name), textOf(marker.comment)].filter((one) => one !== null).join(': '),
      colour: textOf(marker.color)?.toLowerCase() ?? null,
      track,
    });
  }
}

const blackSource = {
  kind: 'black',
  reel: null,
  clip: null,
  file: null,
  dropFrame: false,
  labels: null,
} as const;
