/**
 * The lines of edit lists in the form that is called after the CMX 3600 editing system, as they are commonly met. The form
 * is documented by what programs write, with no standard to name: what is taken here is from memory of that practice, and
 * each kind of line is tested by an example.
 */

/** A line that says one piece of the cut. */
export interface EventLine {
  kind: 'event';
  line: number;
  number: string;
  /** As it stands: `AX` and `BL` too. */
  reel: string;
  /** Tracks by id, `V1`, `A1`; empty for NONE. */
  tracks: string[];
  /** `C`, `D`, `W001`, `K`, `KB`, `KO`. */
  transition: string;
  /** Frames that the transition takes; 0 for a cut. */
  frames: number;
  /** Source in and out, record in and out, as they stand. */
  labels: [string, string, string, string];
}

export type EdlLine =
  | EventLine
  | { kind: 'title'; line: number; text: string }
  | { kind: 'mode'; line: number; dropFrame: boolean }
  /** Another speed: frames a second as they stand. */
  | { kind: 'motion'; line: number; reel: string; speed: string; label: string }
  /** The one kind of track that comes later than the other, by a label's frames. */
  | { kind: 'delay'; line: number; later: 'picture' | 'sound'; label: string }
  /** More tracks of sound for the event before. */
  | { kind: 'more sound'; line: number; tracks: string[] }
  /** A comment that has a name: `FROM CLIP NAME`, in capitals. */
  | { kind: 'named'; line: number; name: string; text: string }
  | { kind: 'comment'; line: number; text: string }
  /** Nothing that is known, or an event that is not whole. */
  | { kind: 'unknown'; line: number; text: string; like: 'event' | 'other' };

const label = /^\d{2}:\d{2}:\d{2}[:;.,]\d{2,3}$/;
const transition = /^(?:C|D|W\d{1,3}|K|KB|KO)$/i;

/** The tracks that a channel word means: `V`, `AA` (sound 1 and 2), `B` (picture and sound 1), `A2/V`, `NONE`; null where it means none known. */
export function tracksOf(word: string): string[] | null {
  const upper = word.toUpperCase();
  if (upper === 'NONE') return [];
  if (upper === 'B') return ['V1', 'A1'];
  const tracks: string[] = [];
  for (const part of upper.split('/')) {
    // `AA/V`, but `A1A2V` and `VA1` too.
    const pieces = part === 'AA' ? ['A1', 'A2'] : part.match(/[AV]\d{0,3}/g);
    if (!pieces || (part !== 'AA' && pieces.join('') !== part)) return null;
    for (const piece of pieces) {
      const id = piece.length === 1 ? `${piece}1` : `${piece[0]}${Number(piece.slice(1))}`;
      if (id.endsWith('0') && Number(id.slice(1)) === 0) return null;
      if (!tracks.includes(id)) tracks.push(id);
    }
  }
  // Pictures first, whichever way round the word has them.
  return tracks.sort((a, b) => Number(b.startsWith('V')) - Number(a.startsWith('V')));
}

/** Longer lines hold no more than their beginning says. */
const longestLine = 4_096;

/** Every line of a list that says something, in its order. */
export function* edlLines(text: string): Generator<EdlLine> {
  let line = 0;
  for (let at = text.startsWith('\uFEFF') ? 1 : 0; at < text.length;) {
    const found = text.indexOf('\n', at);
    const end = found < 0 ? text.length : found;
    // Lists of older machines end their lines with CR alone.
    for (const one of text.slice(at, end).replace(/\r$/, '').split('\r')) {
      line += 1;
      const said = one.slice(0, longestLine).trim();
      if (said !== '') yield lineOf(said, line);
    }
    at = end + 1;
  }
}

function lineOf(text: string, line: number): EdlLine {
  const upper = text.slice(0, 24).toUpperCase();
  if (upper.startsWith('TITLE:')) return { kind: 'title', line, text: text.slice(6).trim() };
  if (upper.startsWith('FCM:')) return { kind: 'mode', line, dropFrame: !/NON/i.test(text.slice(4)) };
  if (/^M2\s/.test(upper)) return motion(text, line);
  if (/^SPLIT:/.test(upper)) return delay(text, line);
  if (/^AUD\s/.test(upper)) {
    const numbers = text.match(/\d{1,3}/g) ?? [];
    return { kind: 'more sound', line, tracks: numbers.map((number) => `A${Number(number)}`) };
  }
  if (/^(?:\*|>)/.test(text)) return comment(text.replace(/^[*>]+\s*/, ''), line);
  if (/^\d/.test(text)) return event(text, line);
  return { kind: 'unknown', line, text, like: 'other' };
}

function event(text: string, line: number): EdlLine {
  const words = text.split(/\s+/);
  const labels = words.slice(-4);
  // Read from its end: a reel may have blanks in it.
  const before = words.slice(0, -4);
  let at = before.length - 1;
  const frames = /^\d{1,5}$/.test(before[at] ?? '') && transition.test(before[at - 1] ?? '') ? Number(before[at]) : 0;
  if (frames > 0 || /^\d+$/.test(before[at] ?? '')) at -= 1;
  const how = before[at] ?? '';
  const tracks = tracksOf(before[at - 1] ?? '?');
  const reel = before.slice(1, at - 1).join(' ');
  if (labels.length < 4 || !labels.every((one) => label.test(one)) || !transition.test(how) || !tracks || reel === '')
    return { kind: 'unknown', line, text, like: 'event' };
  return {
    kind: 'event',
    line,
    number: before[0] as string,
    reel,
    tracks,
    transition: how.toUpperCase(),
    frames,
    labels: labels.map((one) => one.replace(',', ';')) as EventLine['labels'],
  };
}

function motion(text: string, line: number): EdlLine {
  const words = text.split(/\s+/).slice(1);
  const found = words.at(-1) ?? '';
  const speed = words.at(-2) ?? '';
  const reel = words.slice(0, -2).join(' ');
  if (!label.test(found) || !/^[+-]?\d{1,4}(?:\.\d{1,6})?$/.test(speed)) {
    // A line without a label is met as well.
    const last = words.at(-1) ?? '';
    return words.length >= 2 && /^[+-]?\d{1,4}(?:\.\d{1,6})?$/.test(last)
      ? { kind: 'motion', line, reel: words.slice(0, -1).join(' '), speed: last, label: '' }
      : { kind: 'unknown', line, text, like: 'other' };
  }
  return { kind: 'motion', line, reel, speed, label: found.replace(',', ';') };
}

function delay(text: string, line: number): EdlLine {
  // The sign may stand before the label, with a blank or without.
  const [of = '', word, ...rest] = text.slice(6).toUpperCase().replace('=', ' ').split(/\s+/).filter(Boolean);
  const written = rest.join('');
  const back = written.startsWith('-');
  const found = written.replace(/^[+-]/, '');
  if (!['VIDEO', 'AUDIO'].includes(of) || word !== 'DELAY' || !label.test(found))
    return { kind: 'unknown', line, text, like: 'other' };
  return { kind: 'delay', line, later: (of === 'VIDEO') === back ? 'sound' : 'picture', label: found };
}

/** Comments whose name is taken notice of. */
const known = ['FROM CLIP NAME', 'TO CLIP NAME', 'CLIP NAME', 'SOURCE FILE', 'FROM FILE', 'TO FILE', 'LOC', 'SPEED'];

function comment(text: string, line: number): EdlLine {
  const colon = text.indexOf(':');
  const name = text.slice(0, Math.max(0, colon)).trim().toUpperCase();
  return known.includes(name)
    ? { kind: 'named', line, name, text: text.slice(colon + 1).trim() }
    : { kind: 'comment', line, text };
}
