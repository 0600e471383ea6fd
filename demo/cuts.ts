import { mkdir, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Cut, CutEvent, Transition } from '@relay/core/cut/cut';
import { writeEdl } from '@relay/core/cut/edl/write';
import { writeOtio } from '@relay/core/cut/otio/write';
import { framesShown, retimeOf } from '@relay/core/cut/retime';
import { unwrap } from '@relay/core/result';
import { rational, type Rational } from '@relay/core/time/rational';
import { timecodeToFrames } from '@relay/core/time/timecode';

const film = rational(24000, 1001);
const start = unwrap(timecodeToFrames('01:00:00:00', film));

/** One piece of a demo cut. */
interface Piece {
  reel: string | null;
  clip: string | null;
  file?: string;
  /** The label it is cut in at; null for a file without timecode, from whose first frame `skip` counts. */
  at: string | null;
  /** Frames after that label. */
  skip?: number;
  length: number;
  rate?: Rational;
  speed?: Rational;
  dissolve?: number;
  sound?: boolean;
}

function laid(title: string, pieces: readonly Piece[]): Cut {
  let at = start;
  const events = pieces.map((piece, index): CutEvent => {
    const rate = piece.rate ?? film;
    const first = (piece.at === null ? 0 : unwrap(timecodeToFrames(piece.at, rate))) + (piece.skip ?? 0);
    const retime = retimeOf(piece.speed ?? rational(1));
    const perFrame = rational(rate.num * film.den, rate.den * film.num);
    const record = { from: at, to: at + piece.length };
    at = record.to;
    const transition: Transition | null =
      piece.dissolve === undefined ? null : { kind: 'dissolve', frames: piece.dissolve, before: 0, code: null };
    return {
      number: String(index + 1).padStart(3, '0'),
      line: null,
      tracks: piece.sound ? ['V1', 'A1', 'A2'] : ['V1'],
      record,
      recordLabels: null,
      source: {
        kind: 'media',
        reel: piece.reel,
        clip: piece.clip,
        file: piece.file ?? null,
        rate,
        dropFrame: false,
        frames: framesShown(first, piece.length, retime, perFrame),
        labels: null,
      },
      retime,
      transition,
      comments: [],
    };
  });
  return {
    title,
    rate: { rate: film, known: 'given', why: 'So it was made' },
    dropFrame: false,
    start,
    tracks: [
      { id: 'V1', kind: 'picture', name: 'Pictures' },
      { id: 'A1', kind: 'sound', name: 'Left' },
      { id: 'A2', kind: 'sound', name: 'Right' },
    ],
    events,
    markers: [{ at: start + 30, frames: 1, text: 'THE BELL IS LATE', colour: 'red', track: 'V1' }],
    comments: [],
  };
}

const ferry: Piece = { reel: 'A001', clip: 'A001C003', at: '10:02:11:08', skip: 12, length: 32, sound: true };
const passage: Piece = { reel: 'A001', clip: 'A001C004', at: '10:04:27:19', skip: 6, length: 30, dissolve: 8 };
/** Its file has no reel; the list writes its name for one, and cut that. */
const bridge: Piece = { reel: 'B001C00', clip: null, at: '10:04:27:02', skip: 4, length: 24 };
const lantern: Piece = {
  reel: 'C001',
  clip: 'C001C011',
  at: '14:20:02:15',
  skip: 6,
  length: 48,
  speed: rational(1, 2),
};
/** From a card that never arrived. */
const quay: Piece = { reel: 'E001', clip: 'E001C007', at: '17:31:04:00', length: 36 };
const second: Piece = { reel: 'C001', clip: 'C001C012', at: '14:22:40:01', skip: 2, length: 20 };
/** Cut on the proxy of a clip whose own rate varies. */
const gulls: Piece = {
  reel: null,
  clip: 'P000_0007',
  file: '/shuttle/proxy/day-2/P000/P000_0007.mov',
  at: null,
  skip: 10,
  length: 24,
  rate: rational(30),
};

/**
 * Two versions of the cut of Salt Lantern, as they come back from the edit: with a dissolve, a retime, a reel that was cut
 * off, an event of a card that is not there, and in the second one of the clip whose rate varies. Every frame that they
 * name shows its timecode on its slate.
 */
export const demoCuts: readonly { file: string; content: () => string }[] = [
  {
    file: 'salt-lantern-1.edl',
    content: () => writeEdl(laid('SALT LANTERN 1', [ferry, passage, bridge, lantern, quay, second])),
  },
  {
    file: 'salt-lantern-2.otio',
    content: () =>
      writeOtio(
        laid('SALT LANTERN 2', [
          { ...ferry, skip: 18, length: 26 },
          { ...passage, length: 40 },
          lantern,
          bridge,
          gulls,
          quay,
        ]),
      ),
  },
];

/** Writes the demo's cuts where they are not there yet. */
export async function writeDemoCuts(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const { file, content } of demoCuts) {
    const path = join(folder, file);
    if (!(await stat(path).catch(() => null))) await writeFile(path, content());
  }
}
