import { fail, ok, type Result } from '../result.ts';
import { anchors, type Anchor } from '../shape/window.ts';
import { collisionKey, folderName } from '../naming/paths.ts';

/** What a burn-in can tell of a clip, by the words it is stored and chosen by. */
export const burnFacts = {
  name: 'Name',
  source: 'Source timecode',
  record: 'Record timecode',
  frame: 'Frame',
  reel: 'Reel',
  scene: 'Scene',
  take: 'Take',
  camera: 'Camera',
  production: 'Production',
  date: 'Date',
  deliverable: 'Deliverable',
  rate: 'Rate',
  recipient: 'Recipient',
} as const;
export type BurnFact = keyof typeof burnFacts;

/** A piece of a line: something known of the clip, or words as they stand. Neither is ever interpreted, only drawn. */
export type BurnPiece = { kind: 'fact'; fact: BurnFact } | { kind: 'text'; text: string };

/** Pieces side by side, at a place of the safe grid. Lines at one place stack in their order. */
export interface BurnLine {
  at: Anchor;
  pieces: BurnPiece[];
}

/** Words that say whose copy this is; each recipient gets a copy of their own. */
export interface BurnMark {
  /** Across the picture from corner to corner, see-through; or one more plated line in a corner. */
  as: 'across' | 'corner';
  at: Anchor;
  strength: 'faint' | 'clear';
  pieces: BurnPiece[];
  recipients: string[];
}

/** A picture laid over, named by the key under which its bytes are kept. */
export interface BurnImage {
  image: string;
  /** Samples of the picture as stored. */
  width: number;
  height: number;
  at: Anchor;
  /** Of the output's width, or of its height where that is reached first; 0 to 1. */
  share: number;
  opacity: number;
  /** Only over the first so many frames, as a slate is; throughout where absent. */
  frames?: number;
}

export const burnSizes = { small: 36, usual: 27, large: 18 } as const;

/** What is drawn over a deliverable's pictures. */
export interface BurnLayout {
  size: keyof typeof burnSizes;
  lines: BurnLine[];
  mark?: BurnMark;
  image?: BurnImage;
}

const mostLines = 4;

/** Whether a layout can be drawn: known places, room for its lines, recipients whose folders differ. */
export function checkLayout(layout: BurnLayout): Result<BurnLayout> {
  for (const at of anchors) {
    if (layout.lines.filter((line) => line.at === at).length > mostLines)
      return fail(`More than ${mostLines} lines at ${at}`, 'Move some to another place');
  }
  const { mark, image } = layout;
  if (mark) {
    const names = mark.recipients.map((name) => collisionKey(folderName(name)));
    if (names.some((name) => name === ''))
      return fail(
        'A recipient has no name that a folder could have',
        'Give every recipient a name of letters or digits',
      );
    const twice = mark.recipients.find((_, i) => names.indexOf(names[i] as string) !== i);
    if (twice !== undefined)
      return fail(`${twice} would share a folder with another recipient`, 'Give each recipient a name of their own');
  }
  if (image && !(image.share > 0 && image.share <= 1 && image.opacity > 0 && image.opacity <= 1))
    return fail('The image would not be seen or would not fit', 'Choose a size and an opacity above 0, up to 1');
  return ok(layout);
}

/** What viewing copies begin with. */
export const viewingLayout: BurnLayout = {
  size: 'usual',
  lines: [
    { at: 'top left', pieces: [{ kind: 'fact', fact: 'production' }] },
    { at: 'top right', pieces: [{ kind: 'fact', fact: 'date' }] },
    { at: 'bottom left', pieces: [{ kind: 'fact', fact: 'name' }] },
    { at: 'bottom right', pieces: [{ kind: 'fact', fact: 'source' }] },
  ],
};
