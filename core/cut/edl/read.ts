import { fail, ok, type Result } from '../../result.ts';
import { parseRational } from '../../time/rational.ts';
import { formatRate } from '../../time/rate.ts';
import { droppedPerMinute } from '../../time/timecode.ts';
import type { Cut, CutEvent, CutMarker, CutTrack, ReadCut, Span } from '../cut.ts';
import { Ends } from '../ends.ts';
import { labelFrames, spanOf } from '../labels.ts';
import { cutRate, type RateAsked } from '../rate.ts';
import { quoted, Remarks } from '../remarks.ts';
import { contradiction, labelled, type Labelled } from './labelled.ts';
import { edlLines, type EdlLine, type EventLine } from './lines.ts';
import { motionOf, saysAgain, sharpened, withMotion } from './motion.ts';
import { lookForOverlaps, settle } from './settle.ts';
import { splitByDelay } from './split.ts';

/** Lists hold no more events than these. */
const mostEvents = 200_000;

/**
 * Reads an edit list of lines (CMX 3600 as it is commonly written): what a line says that cannot be is remarked on with
 * its number, and the rest is read on. Fails where no line is an event, or the list is not in the rate that was given.
 */
export function readEdl(text: string, asked: RateAsked): Result<ReadCut> {
  const lines = [...edlLines(text)];
  const about = labelled(lines);
  if (about.count === 0)
    return fail(
      'No line of it is an event: a number, a reel, a track, a transition and four timecodes',
      'Export the edit list again, as CMX 3600 or OpenTimelineIO',
    );
  const contradicted = contradiction(about, asked);
  if (contradicted !== null)
    return fail(`The list is not in the rate that was given: ${contradicted}`, 'Say its own rate');
  const highest = asked.given ? 0 : Math.max(...[...about.numbers.keys()].filter((number) => number < 120));
  const dropFrame = about.marked || (about.mode ?? false);
  const rate = cutRate({ highest, dropFrame: dropFrame && !asked.given }, asked);
  if (!rate.ok) return rate;
  const reader = new EdlReader(rate.value.rate, about);
  for (const line of lines) reader.take(line);
  return ok(reader.ended(rate.value));
}

class EdlReader {
  private readonly remarks = new Remarks();
  private readonly events: CutEvent[] = [];
  /** Those of which more may be said yet. */
  private readonly pushed: CutEvent[] = [];
  private readonly markers: CutMarker[] = [];
  private readonly comments: string[] = [];
  private title = '';
  /** The event that comments are about, and where it comes by a transition, the one that it comes from. */
  private now: CutEvent | null = null;
  private outgoing: CutEvent | null = null;
  /** The source in of the line that the outgoing one was named by. */
  private outgoingIn: string | null = null;
  /** A line of motion below the event has said the speed of the outgoing one. */
  private outgoingSaid = false;
  private before: { line: EventLine; event: CutEvent } | null = null;
  private readonly ends = new Ends();
  private sourceMode: boolean;
  private readonly recordDrops: boolean;
  private tooMany = false;

  constructor(
    private readonly rate: Cut['rate']['rate'],
    private readonly about: Labelled,
  ) {
    const drops = droppedPerMinute(rate) > 0;
    if (about.mode && !drops)
      this.remarks.add(null, `The list says that it is drop-frame, which ${formatRate(rate)} has not: taken without`);
    this.sourceMode = (about.mode ?? false) && drops;
    this.recordDrops = this.sourceMode;
  }

  take(line: EdlLine): void {
    switch (line.kind) {
      case 'title':
        if (this.title === '') this.title = line.text;
        return;
      case 'mode':
        this.sourceMode = line.dropFrame && droppedPerMinute(this.rate) > 0;
        return;
      case 'event':
        if (this.events.length < mostEvents) this.takeEvent(line);
        else if (!this.tooMany) {
          this.tooMany = true;
          this.remarks.add(line.line, `From here on nothing is read: the list has more than ${mostEvents} events`);
        }
        return;
      case 'motion':
        this.takeMotion(line);
        return;
      case 'delay':
        this.takeDelay(line);
        return;
      case 'more sound':
        this.now?.tracks.push(...line.tracks.filter((id) => !this.now?.tracks.includes(id)));
        return;
      case 'named':
        this.takeNamed(line);
        return;
      case 'comment':
        (this.now?.comments ?? this.comments).push(line.text);
        return;
      case 'unknown':
        if (line.like === 'event') this.remarks.add(line.line, `${quoted(line.text)} is no whole event: left out`);
        else {
          this.remarks.add(line.line, `${quoted(line.text)} is not known: kept as a comment`);
          (this.now?.comments ?? this.comments).push(line.text);
        }
    }
  }

  private drops(label: string, mode: boolean): boolean {
    return this.about.marked ? /[;.]\d+$/.test(label) : mode;
  }

  /** A span of labels; what is wrong with it is remarked on. */
  private span(line: number, labels: readonly [string, string], mode: boolean): Span | null {
    const [from, to] = labels.map((label) => labelFrames(label, this.rate, this.drops(label, mode)));
    if (!from || !to) return null;
    const span = spanOf(from, to, this.rate, this.drops(labels[0], mode));
    if (span.ok) return span.value;
    this.remarks.add(line, span.problem.what);
    return null;
  }

  private takeEvent(line: EventLine): void {
    // All that is said of the event before has been said by now: its tracks, its split.
    for (const one of this.pushed.splice(0)) this.ends.add(one);
    const event = this.eventOf(line);
    if (line.tracks.length === 0) this.remarks.add(line.line, 'The event is on no track');
    this.outgoing = null;
    this.outgoingIn = null;
    this.outgoingSaid = false;
    if (line.transition !== 'C') this.comesAfter(line, event);
    this.push(event);
    this.now = event;
    this.before = { line, event };
  }

  private eventOf({ line, number, reel, tracks, labels, transition, frames }: EventLine): CutEvent {
    const [sourceIn, sourceOut, recordIn, recordOut] = labels;
    const source = this.span(line, [sourceIn, sourceOut], this.sourceMode);
    const said = this.span(line, [recordIn, recordOut], this.recordDrops);
    const length = source ? Math.max(0, source.to - source.from) : 0;
    const last = this.events.at(-1)?.record.to ?? 0;
    const record = said ?? { from: last, to: last + length };
    if (record.to < record.from) {
      this.remarks.add(line, `The record out ${recordOut} comes before the record in ${recordIn}`);
      record.to = record.from + length;
    }
    const kind = /^(?:BL|BLACK|BLK)$/i.test(reel) ? 'black' : 'media';
    return {
      number,
      line,
      tracks: [...tracks],
      record,
      recordLabels: { from: recordIn, to: recordOut },
      source: {
        kind,
        reel: kind === 'black' || /^AX$/i.test(reel) ? null : reel,
        clip: null,
        file: null,
        rate: this.rate,
        dropFrame: this.drops(sourceIn, this.sourceMode),
        frames: source,
        labels: { from: sourceIn, to: sourceOut },
      },
      retime: null,
      transition: this.transitionOf(line, transition, frames),
      comments: [],
    };
  }

  private transitionOf(line: number, how: string, frames: number): CutEvent['transition'] {
    if (how === 'C') return null;
    if (how.startsWith('K')) {
      this.remarks.add(line, `A key (${how}) is taken as a cut`);
      return null;
    }
    return { kind: how === 'D' ? 'dissolve' : 'wipe', frames, before: 0, code: how === 'D' ? null : how };
  }

  /**
   * A transition's line comes after one with its number that says what it comes from. Where that takes no time and goes
   * on where the event before left off, it is that event and none of its own.
   */
  private comesAfter(line: EventLine, event: CutEvent): void {
    const { before } = this;
    if (before?.line.number !== line.number || before.line.transition !== 'C') {
      this.outgoing = this.ends.before(event);
      return;
    }
    this.outgoing = before.event;
    this.outgoingIn = before.line.labels[0];
    const { record, source } = before.event;
    if (record.to > record.from) return;
    if (source.kind === 'black') {
      this.takeBack(before.event);
      this.outgoing = null;
      return;
    }
    const left = this.ends.before(before.event);
    // Where that plays backwards or stands, it goes on at the lower of its labels.
    const { from, to } = left?.source.labels ?? {};
    if (left?.source.reel === source.reel && [from, to].includes(before.line.labels[0])) {
      this.takeBack(before.event);
      this.outgoing = left;
    }
  }

  private push(event: CutEvent): void {
    this.events.push(event);
    this.pushed.push(event);
  }

  /** The last event was none of its own. */
  private takeBack(event: CutEvent): void {
    this.events.splice(this.events.lastIndexOf(event), 1);
    this.ends.drop(event);
  }

  private takeMotion(line: Extract<EdlLine, { kind: 'motion' }>): void {
    const reelOf = (event: CutEvent): string => event.source.reel ?? 'AX';
    const of = [this.now, this.outgoing].filter(
      (one): one is CutEvent => one !== null && (line.reel === '' || reelOf(one) === line.reel),
    );
    const starts = (one: CutEvent): boolean =>
      one.source.labels?.from === line.label || (one === this.outgoing && this.outgoingIn === line.label);
    // Where both begin at one label of one reel, the first line is that of the one it comes from.
    const both = of.length === 2 && of.every(starts) && !this.outgoingSaid;
    const known = both && this.outgoing !== null && saysAgain(this.outgoing, line.speed, this.rate);
    const event = known ? this.outgoing : (of.find(starts) ?? of[0]);
    if (!event) {
      this.remarks.add(line.line, `The speed of ${quoted(line.reel)} is of no event before it`);
      return;
    }
    // Said again of an event that is already known: its own line was the exact one.
    if (event === this.outgoing && event.retime !== null) {
      this.outgoingSaid = true;
      return;
    }
    const problem = withMotion(event, motionOf(event, line.speed, this.rate));
    if (problem !== null) this.remarks.add(line.line, problem);
  }

  private takeDelay(line: Extract<EdlLine, { kind: 'delay' }>): void {
    const frames = labelFrames(line.label, this.rate, false);
    const other = this.now && frames.ok ? splitByDelay(this.now, line.later, frames.value) : null;
    if (other) this.push(other);
  }

  private takeNamed({ name, text, line }: Extract<EdlLine, { kind: 'named' }>): void {
    const { now, outgoing } = this;
    if (!now) {
      this.comments.push(`${name}: ${text}`);
      return;
    }
    switch (name) {
      case 'FROM CLIP NAME':
      case 'CLIP NAME':
        if (now.transition && name === 'FROM CLIP NAME') {
          if (outgoing) outgoing.source.clip ??= text;
        } else now.source.clip = text;
        return;
      case 'TO CLIP NAME':
        now.source.clip = text;
        return;
      case 'FROM FILE':
        if (outgoing) outgoing.source.file ??= text;
        return;
      case 'SOURCE FILE':
      case 'TO FILE':
        // Two of them are that of what it comes from, and its own.
        if (outgoing && now.source.file !== null) outgoing.source.file ??= now.source.file;
        now.source.file = text;
        return;
      case 'SPEED': {
        const speed = parseRational(text);
        if (!speed.ok || !sharpened(now, speed.value)) now.comments.push(`${name}: ${text}`);
        return;
      }
      default:
        this.takeMarker(text, line);
    }
  }

  private takeMarker(text: string, line: number): void {
    const [label = '', colour, ...words] = text.split(/\s+/);
    const at = labelFrames(label, this.rate, this.drops(label, this.recordDrops));
    if (!at.ok) {
      this.remarks.add(line, `${quoted(text)} is no place of a marker: kept as a comment`);
      this.now?.comments.push(`LOC: ${text}`);
      return;
    }
    this.markers.push({
      at: at.value,
      frames: 0,
      text: words.join(' '),
      colour: colour?.toLowerCase() ?? null,
      track: this.now?.tracks[0] ?? null,
    });
  }

  ended(rate: Cut['rate']): ReadCut {
    for (const event of this.events) settle(event, this.remarks);
    lookForOverlaps(this.events, this.remarks);
    const ids = new Set(this.events.flatMap(({ tracks }) => tracks));
    const cut: Cut = {
      title: this.title,
      rate,
      dropFrame: this.about.marked
        ? this.events.some(({ recordLabels }) => /[;.]\d+$/.test(recordLabels?.from ?? ''))
        : this.recordDrops,
      start: this.events.reduce((first, { record }) => Math.min(first, record.from), Infinity),
      tracks: [...ids].sort(byTrack).map(trackOf),
      events: this.events,
      markers: this.markers,
      comments: this.comments,
    };
    return { cut, remarks: this.remarks.said() };
  }
}

/** Pictures before sound, then by number. */
function byTrack(a: string, b: string): number {
  if (a[0] !== b[0]) return a.startsWith('V') ? -1 : 1;
  return Number(a.slice(1)) - Number(b.slice(1));
}

function trackOf(id: string): CutTrack {
  return { id, kind: id.startsWith('V') ? 'picture' : 'sound', name: '' };
}
