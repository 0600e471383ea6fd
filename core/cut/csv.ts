import { csvLine } from '../identity/csv.ts';
import { formatRate } from '../time/rate.ts';
import { framesToTimecode } from '../time/timecode.ts';
import type { Rational } from '../time/rational.ts';
import type { Cut } from './cut.ts';
import { sayRetime } from './retime.ts';

const columns = [
  'event',
  'line',
  'tracks',
  'record in',
  'record out',
  'frames',
  'source',
  'reel',
  'clip',
  'file',
  'source in',
  'source out',
  'source rate',
  'speed',
  'transition',
  'comments',
];

/** A cut as a table (RFC 4180, a header line), an event a row; labels are `HH:MM:SS:FF`, outs are not among the frames. */
export function cutCsv(cut: Cut): string {
  const rows = cut.events.map(({ number, line, tracks, record, source, retime, transition, comments }) =>
    csvLine([
      number,
      line,
      tracks.join(' '),
      label(record.from, cut.rate.rate, cut.dropFrame),
      label(record.to, cut.rate.rate, cut.dropFrame),
      record.to - record.from,
      source.kind,
      source.reel,
      source.clip,
      source.file,
      source.frames && label(source.frames.from, source.rate, source.dropFrame),
      source.frames && label(source.frames.to, source.rate, source.dropFrame),
      source.kind === 'media' ? formatRate(source.rate) : null,
      retime && sayRetime(retime),
      transition && `${transition.code ?? transition.kind} ${transition.frames}`,
      comments.join(' | '),
    ]),
  );
  return `${[csvLine(columns), ...rows].join('\r\n')}\r\n`;
}

function label(frames: number, rate: Rational, dropFrame: boolean): string {
  const found = framesToTimecode(frames, rate, dropFrame);
  return found.ok ? found.value.text : '';
}
