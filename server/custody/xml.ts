import type { Tree } from '@relay/core/clip/sidecar';
import { fail, ok, type Result } from '@relay/core/result';
import { XMLParser } from 'fast-xml-parser';

/** XML larger or deeper than this is nobody's sidecar or manifest. */
const most = { bytes: 64_000_000, depth: 40, nodes: 2_000_000 };

type Ordered = Record<string, unknown>[];

const parser = new XMLParser({
  preserveOrder: true, ignoreAttributes: false, attributeNamePrefix: '', trimValues: false, parseTagValue: false, parseAttributeValue: false,
  processEntities: false, ignoreDeclaration: true, ignorePiTags: true,
});

/** The five entities that every XML document knows, and characters by number; no others are, so none can grow. */
function plain(text: string): string {
  return text.replace(/&(?:#(\d{1,7})|#x([0-9a-fA-F]{1,6})|(lt|gt|amp|quot|apos));/g, (whole, decimal: string | undefined, hex: string | undefined, name: string | undefined) => {
    if (name) return { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" }[name] as string;
    const code = decimal ? Number(decimal) : Number.parseInt(hex ?? '', 16);
    return code > 0 && code <= 0x10ffff ? String.fromCodePoint(code) : whole;
  });
}

/**
 * Reads XML that nobody trusts into a tree. Document types are refused, so there are no entities to expand and nothing
 * to fetch; sizes and depth are bounded.
 */
export function readXml(text: string): Result<Tree> {
  if (text.length > most.bytes) return fail('it is larger than 64 MB', 'Leave it aside');
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) return fail('it declares a document type or entities, which are not read', 'Leave it aside');
  try {
    let nodes = 0;
    const build = (name: string, ordered: Ordered, attributes: Record<string, string>, depth: number): Tree => {
      nodes += 1;
      if (depth > most.depth || nodes > most.nodes) throw new Error('it is nested too deep or too large');
      const tree: Tree = { name, text: '', children: Object.entries(attributes).map(([key, value]) => ({ name: key, text: plain(String(value)), children: [] })) };
      for (const item of ordered) {
        if ('#text' in item) tree.text += plain(String(item['#text']));
        else {
          const key = Object.keys(item).find((candidate) => candidate !== ':@');
          if (key !== undefined && !key.startsWith('!')) tree.children.push(build(key, item[key] as Ordered, (item[':@'] ?? {}) as Record<string, string>, depth + 1));
        }
      }
      return tree;
    };
    const document = build('', parser.parse(text, true) as Ordered, {}, 0);
    const root = document.children[0];
    return root ? ok(root) : fail('it holds no XML', 'Leave it aside');
  } catch (error) {
    return fail(`it is not well-formed (${(error as Error).message.split('\n')[0] ?? ''})`, 'Leave it aside');
  }
}

/** Text for an element or attribute. */
export function xmlText(text: string): string {
  return text.replace(/[&<>"]/g, (letter) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[letter] as string);
}

/** Whether XML 1.0 can hold a text at all: no control characters, no halves of pairs, no U+FFFD that stands for unreadable bytes. */
export function fitsXml(text: string): boolean {
  return !/[\u0000-\u001f\u007f\ufffd\ufffe\uffff]|\p{Cs}/u.test(text);
}
