import { formatFraction, rational, toNumber } from '../../time/rational.ts';
import { nominalFramesPerSecond } from '../../time/rate.ts';
import { framesToTimecode } from '../../time/timecode.ts';
import type { Cut, CutEvent, Span } from '../cut.ts';
import { speedOf } from '../retime.ts';
import { Ends } from '../ends.ts';
import { byRecord, begunAtTransition, sourceBefore } from '../order.ts';

export interface EdlWish {
  /** The picture track that the list is of: the form knows one. */
  picture: string;
  /** Letters that a reel keeps at most. */
  reelLength: number;
}

export const usualEdl: EdlWish = { picture: 'V1', reelLength: 128 };

/** Tracks that a list can name: one of pictures, and sound from 1 to 99. */
function written(id: string, wish: EdlWish): string | null {
  if (id === wish.picture) return 'V';
  const sound = /^A(\d{1,2})$/.exec(id);
  return sound ? (sound[1] === '1' ? 'A' : `A${sound[1]}`) : null;
}

/** The word for tracks of one line; those that it cannot name stand in a line of their own. */
function channelOf(tracks: readonly string[]): { word: string; more: string[] } {
  const pictures = tracks.includes('V');
  const sound = tracks.filter((id) => id !== 'V');
  const [first, second, ...rest] = sound;
  if (!first) return { word: pictures ? 'V' : 'NONE', more: [] };
  const both = first === 'A' && second === 'A2';
  return {
    word: `${both ? 'AA' : first}${pictures ? '/V' : ''}`,
    more: both ? rest : sound.slice(1),
  };
}

/** What an edit list of lines cannot say of a cut: to be read before it is written. */
export function edlCannotSay(cut: Cut, wish: EdlWish = usualEdl): string[] {
  const said: string[] = [];
  const left = cut.tracks.filter(({ id }) => written(id, wish) === null);
  const leftOut = new Set(left.map(({ id }) => id));
  if (left.length > 0)
    said.push(
      `${left.map(({ id }) => id).join(', ')}: a list has one picture track, here ${wish.picture}; write a list for each`,
    );
  const events = cut.events.filter(({ tracks }) => tracks.some((id) => !leftOut.has(id)));
  const count = (what: string, which: (event: CutEvent) => boolean): void => {
    const found = events.filter(which).length;
    if (found > 0) said.push(`${found} ${found === 1 ? 'event' : 'events'}: ${what}`);
  };
  count('a transition over a cut is said to begin at the cut', ({ transition }) => (transition?.before ?? 0) > 0);
  count('what was made in the editing program is said as black', ({ source }) => source.kind === 'generated');
  count(
    `reels longer than ${wish.reelLength} letters are cut`,
    ({ source }) => (source.reel?.length ?? 0) > wish.reelLength,
  );
  count('blanks in reels become _', ({ source }) => /\s/.test(source.reel ?? ''));
  count(
    'source labels are counted in the rate of the cut, not in their own',
    ({ source }) => source.kind === 'media' && !sameRate(source.rate, cut.rate.rate),
  );
  count(
    'without a label that was read, its source is said to begin at 00:00:00:00',
    ({ source }) => source.kind === 'media' && source.frames === null,
  );
  count(
    'a wipe has no pattern of 3 figures: W001 is written',
    ({ transition }) => transition?.kind === 'wipe' && !/^W\d{3}$/.test(transition.code ?? ''),
  );
  if (cut.markers.some(({ frames }) => frames > 1)) said.push('The length of markers');
  if (cut.metadata || events.some(({ metadata }) => metadata)) said.push('What other programs keep beside clips');
  return said;
}

function sameRate(a: Cut['rate']['rate'], b: Cut['rate']['rate']): boolean {
  return a.num * b.den === b.num * a.den;
}

/** One line of comment holds no line of its own. */
const oneLine = (text: string): string => text.replaceAll(/[\r\n]+/g, ' ').slice(0, 1_000);

/** A cut as an edit list of lines, CRLF between them. What it cannot say, {@link edlCannotSay} says. */
export function writeEdl(cut: Cut, wish: EdlWish = usualEdl): string {
  return new EdlWriter(cut, wish).list();
}

class EdlWriter {
  private readonly lines: string[] = [];
  private number = 0;
  private sourceDrops: boolean;
  private readonly ends = new Ends();

  constructor(
    private readonly cut: Cut,
    private readonly wish: EdlWish,
  ) {
    this.sourceDrops = cut.dropFrame;
  }

  list(): string {
    const { cut } = this;
    this.lines.push(`TITLE: ${oneLine(cut.title) || 'UNTITLED'}`, this.mode(cut.dropFrame));
    cut.comments.forEach((one) => this.lines.push(`* ${oneLine(one)}`));
    const events = byRecord(cut).map((event) => begunAtTransition(cut, event));
    const markers = [...cut.markers].sort((a, b) => a.at - b.at);
    let next = 0;
    events.forEach((event) => {
      const leaving = event.transition ? this.ends.before(event) : null;
      this.ends.add(event);
      if (!this.event(event, leaving?.source.kind === 'media' ? leaving : null)) return;
      for (; next < markers.length && (markers[next]?.at ?? 0) < event.record.to; next += 1) this.marker(next, markers);
    });
    for (; next < markers.length; next += 1) this.marker(next, markers);
    return `${this.lines.join('\r\n')}\r\n`;
  }

  private mode(dropFrame: boolean): string {
    return `FCM: ${dropFrame ? '' : 'NON-'}DROP FRAME`;
  }

  private label(frames: number, dropFrame: boolean): string {
    const label = framesToTimecode(frames, this.cut.rate.rate, dropFrame);
    return label.ok ? label.value.text : '00:00:00:00';
  }

  private marker(index: number, markers: Cut['markers']): void {
    const marker = markers[index];
    if (marker)
      this.lines.push(
        `* LOC: ${this.label(marker.at, this.cut.dropFrame)} ${(marker.colour ?? 'white').toUpperCase()} ${oneLine(marker.text)}`.trimEnd(),
      );
  }

  private reel({ source }: CutEvent): string {
    if (source.kind !== 'media') return 'BL';
    return (source.reel ?? 'AX').replaceAll(/\s+/g, '_').slice(0, this.wish.reelLength) || 'AX';
  }

  /** One event, and what it comes from by a transition; null for black. */
  private event(event: CutEvent, leaving: CutEvent | null): boolean {
    const tracks = event.tracks
      .map((id) => written(id, this.wish))
      .filter((id) => id !== null)
      .sort();
    if (tracks.length === 0 && event.tracks.length > 0) return false;
    const { word, more } = channelOf(tracks);
    const drops = event.source.dropFrame;
    if (event.source.kind === 'media' && drops !== this.sourceDrops) {
      this.sourceDrops = drops;
      this.lines.push(this.mode(drops));
    }
    this.number += 1;
    if (event.transition) this.line(leaving, word, null, event.record.from, leavingSpan(leaving));
    const { frames } = event.source;
    const whole = frames ?? { from: 0, to: event.record.to - event.record.from };
    this.line(event, word, howOf(event), event.record.from, whole);
    if (more.length > 0) this.lines.push(`AUD  ${more.map((id) => id.slice(1)).join('    ')}`);
    if (leaving?.retime) this.motion(leaving, leavingSpan(leaving).from, false);
    if (event.retime) this.motion(event, whole.from, true);
    this.words(event, leaving);
    return true;
  }

  /** What is said of an event below it. */
  private words({ source, transition, comments }: CutEvent, leaving: CutEvent | null): void {
    if (leaving?.source.clip) this.lines.push(`* FROM CLIP NAME: ${oneLine(leaving.source.clip)}`);
    if (source.clip) this.lines.push(`* ${transition ? 'TO' : 'FROM'} CLIP NAME: ${oneLine(source.clip)}`);
    if (source.file) this.lines.push(`* SOURCE FILE: ${oneLine(source.file)}`);
    comments.forEach((one) => this.lines.push(`* ${oneLine(one)}`));
  }

  /** One line; without an event it is black. The line that a transition comes from has no `how`, and takes no time. */
  private line(event: CutEvent | null, word: string, how: string | null, at: number, source: Span): void {
    const takesTime = how !== null;
    const to = takesTime ? (event?.record.to ?? at) : at;
    const drops = event?.source.dropFrame ?? false;
    const labels = event === null || event.source.kind !== 'media' ? { from: 0, to: to - at } : source;
    this.lines.push(
      [
        String(this.number).padStart(3, '0'),
        (event ? this.reel(event) : 'BL').padEnd(8),
        word.padEnd(5),
        (how ?? 'C').padEnd(8),
        this.label(labels.from, drops),
        this.label(labels.to, drops),
        this.label(at, this.cut.dropFrame),
        this.label(to, this.cut.dropFrame),
      ].join(' '),
    );
  }

  /** The speed in frames a second, and exactly, where one decimal does not say it. */
  private motion(event: CutEvent, from: number, exactly: boolean): void {
    const speed = speedOf(event.retime);
    const perSecond = toNumber(speed) * nominalFramesPerSecond(this.cut.rate.rate);
    const written = `${perSecond < 0 ? '-' : ''}${Math.abs(perSecond).toFixed(1).padStart(5, '0')}`;
    this.lines.push(`M2   ${this.reel(event).padEnd(8)} ${written} ${this.label(from, event.source.dropFrame)}`);
    const said = rational(Math.round(perSecond * 10), 10 * nominalFramesPerSecond(this.cut.rate.rate));
    if (exactly && event.retime?.kind === 'speed' && !sameRate(said, speed))
      this.lines.push(`* SPEED: ${formatFraction(speed)}`);
  }
}

/** Where what a transition comes from stands when it begins: its next frame. */
function leavingSpan(leaving: CutEvent | null): Span {
  const at = leaving ? sourceBefore(leaving) : 0;
  return { from: at, to: at };
}

/** `C`, `D 024`, `W001 024`. */
function howOf({ transition }: CutEvent): string {
  if (transition === null) return 'C';
  const pattern = /^W\d{3}$/.test(transition.code ?? '') ? transition.code : 'W001';
  return (
    `${transition.kind === 'dissolve' ? 'D' : pattern}`.padEnd(4) + ` ${String(transition.frames).padStart(3, '0')}`
  );
}
