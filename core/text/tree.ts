import { fail, ok, type Result } from '../result.ts';
import { scanXml, XmlProblem, type XmlLimits } from './xml.ts';

/**
 * A piece of a document, whatever its format was: a name, the text in it, and what lies inside. Attributes are children
 * with text.
 */
export interface Tree {
  name: string;
  text: string;
  children: Tree[];
}

/** XML larger or deeper than this is nobody's sidecar or manifest. */
export const usualLimits = { bytes: 64_000_000, nodes: 3_000_000, depth: 40, lenient: true } as const;

/**
 * Reads XML that nobody trusts into a tree. `take` is shown every element as it ends, and those that it takes are not
 * kept, so that a manifest of a hundred thousand files need not stand in memory whole.
 */
export function readXml(
  text: string,
  limits: XmlLimits & { bytes: number } = usualLimits,
  take: (tree: Tree) => boolean = () => false,
): Result<Tree> {
  if (text.length > limits.bytes)
    return fail(`it is larger than ${Math.round(limits.bytes / 1e6)} MB`, 'Leave it aside');
  const document: Tree = { name: '', text: '', children: [] };
  const open: Tree[] = [document];
  try {
    scanXml(text, limits, {
      open: (name, attributes) => {
        open.push({
          name,
          text: '',
          children: attributes.map(([key, value]) => ({ name: key, text: value, children: [] })),
        });
      },
      text: (piece) => {
        (open.at(-1) as Tree).text += piece;
      },
      close: () => {
        const ended = open.pop() as Tree;
        if (!take(ended)) open.at(-1)?.children.push(ended);
      },
    });
  } catch (error) {
    if (error instanceof XmlProblem)
      return fail(`it is not well-formed XML: line ${error.line}: ${error.what}`, error.remedy);
    throw error;
  }
  const root = document.children[0];
  return root ? ok(root) : fail('it holds no XML', 'Leave it aside');
}

/** The first child of a name, whatever its prefix. */
export function child(tree: Tree, name: string): Tree | undefined {
  return tree.children.find((one) => localName(one.name) === name);
}

/** The text of the first child of a name; null where it has none. */
export function textOf(tree: Tree | undefined, name: string): string | null {
  return (tree && child(tree, name)?.text.trim()) || null;
}

/** A name without its prefix. */
export function localName(name: string): string {
  return name.slice(name.lastIndexOf(':') + 1);
}
