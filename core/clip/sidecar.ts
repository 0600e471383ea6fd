import { cleaned, identityFields, identityLimits, type Identity } from '../identity/identity.ts';
import type { Tree } from '../text/tree.ts';
import { folderOf, stemOf } from './roll.ts';

/** What a sidecar adds about a clip. */
export interface SidecarFacts {
  identity: Partial<Identity>;
  /** Files that it lists as one recording, by their names, in order. */
  spans: string[][];
}

/**
 * Words that sidecars use for what we call reel, scene, and so on; compared without case, dashes and what stands before
 * a colon. Common practice, no source.
 */
const words: Readonly<Record<string, keyof Identity>> = {
  reel: 'reel',
  reelname: 'reel',
  reelnumber: 'reel',
  tape: 'reel',
  tapename: 'reel',
  scene: 'scene',
  scenename: 'scene',
  slate: 'scene',
  take: 'take',
  takenumber: 'take',
  camera: 'camera',
  cameraid: 'camera',
  cameraindex: 'camera',
  cameraletter: 'camera',
  circled: 'circled',
  circletake: 'circled',
  note: 'note',
  notes: 'note',
  comment: 'note',
  description: 'note',
};

function plainName(name: string): string {
  return name
    .slice(name.lastIndexOf(':') + 1)
    .toLowerCase()
    .replace(/[-_]/g, '');
}

function* everything(tree: Tree): Generator<Tree> {
  yield tree;
  for (const child of tree.children) yield* everything(child);
}

/** Identity that a tree states, at any depth; the first word for each field counts. */
function identityIn(tree: Tree): Partial<Identity> {
  const found: Partial<Identity> = {};
  for (const node of everything(tree)) {
    const field = words[plainName(node.name)];
    const value = cleaned(node.text.replace(/\s+/g, ' '));
    if (!field || value === null || found[field] !== undefined) continue;
    if (field === 'circled') found.circled = /^(yes|true|1|x|circled)$/i.test(value);
    else if (identityFields.includes(field)) found[field] = [...value].slice(0, identityLimits[field]).join('');
  }
  return found;
}

/** The name that a node gives of a file, if it does: its last part, without case. */
function fileNamed(node: Tree): string | null {
  const text = node.text.trim();
  return /\.[A-Za-z0-9]{2,4}$/.test(text) && text.length < 500
    ? (text.split(/[\\/]/).at(-1) ?? '').toLowerCase()
    : null;
}

/** Lists of two files or more inside one element, each in a child of its own of one name: one recording in parts. */
function spansIn(tree: Tree): string[][] {
  return [...everything(tree)].flatMap((node) => {
    const named = node.children.map((child) => ({
      name: plainName(child.name),
      file: [child, ...child.children].map(fileNamed).find((file) => file !== null) ?? null,
    }));
    const parts = named.filter(({ name, file }) => file !== null && /^(part|chapter|segment|span|piece)$/.test(name));
    return parts.length > 1 ? [parts.map(({ file }) => file as string)] : [];
  });
}

/**
 * A sidecar's words about the clip called `path`: all of it when it bears the clip's name, else the elements that name
 * the clip's file.
 */
export function sidecarFacts(tree: Tree, sidecarPath: string, path: string): SidecarFacts {
  const spans = spansIn(tree);
  if (belongsTo(sidecarPath, path)) return { identity: identityIn(tree), spans };
  const file = path.slice(path.lastIndexOf('/') + 1).toLowerCase();
  const about = [...everything(tree)].filter(
    (node) => node !== tree && node.children.some((child) => fileNamed(child) === file),
  );
  return { identity: about.length > 0 ? identityIn(about[0] as Tree) : {}, spans };
}

/** Letters that a sidecar's stem may have more than its clip's: `C0001M01.XML`. */
export const longestSidecarMark = 6;

/**
 * Whether a file lies with a clip: its stem begins with the clip's, with nothing but a mark and letters after
 * (`C0001.XML`, `C0001M01.XML`), in the same folder or one beside it.
 */
export function belongsTo(sidecarPath: string, clipPath: string): boolean {
  const [beside, clip] = [stemOf(sidecarPath).toLowerCase(), stemOf(clipPath).toLowerCase()];
  const own =
    beside === clip || (beside.startsWith(clip) && /^[^0-9][a-z0-9_.-]{0,5}$/.test(beside.slice(clip.length)));
  const [a, b] = [folderOf(sidecarPath), folderOf(clipPath)];
  return own && (a === b || folderOf(a) === folderOf(b) || folderOf(a) === b || folderOf(b) === a);
}

/** The folder that is a whole card's among sidecars: what lies there is about all clips below. */
export function mayTellOf(sidecarPath: string, clipPath: string): boolean {
  const [card] = sidecarPath.split('/');
  return belongsTo(sidecarPath, clipPath) || card === clipPath.split('/')[0] || !sidecarPath.includes('/');
}
