import { LineProblem } from './read.ts';

/** An element with the line that it begins in. Names are without their prefixes. */
export interface XmlElement {
  name: string;
  line: number;
  attributes: Readonly<Record<string, string>>;
  children: XmlElement[];
  /** Its own text, and the line where that begins. */
  text: string;
  textLine: number;
}

const entities: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: '\'' };
const remedy = 'The file is damaged or no XML: export it again';
/** Deeper than any colour file; a hostile one is refused. */
const deepest = 40;

function unescaped(text: string, line: number): string {
  return text.replace(/&([^;\s]{0,12});?/g, (_whole, name: string) => {
    const number = /^#(?:x([0-9a-f]{1,6})|(\d{1,7}))$/i.exec(name);
    const code = number ? parseInt(number[1] ?? number[2] ?? '', number[1] ? 16 : 10) : -1;
    if (code > 0 && code <= 0x10ffff) return String.fromCodePoint(code);
    const known = entities[name];
    if (known === undefined) throw new LineProblem(line, `&${name}; is not known`, remedy);
    return known;
  });
}

function localName(name: string): string {
  return name.slice(name.indexOf(':') + 1);
}

/**
 * A small reader of XML that knows its lines: elements, attributes, text, comments, CDATA. Document types and entities of
 * a file's own are refused, for what they could make grow.
 */
export function readXml(source: string): XmlElement {
  const text = source.replace(/^\uFEFF/, '');
  const token = /<!--[\s\S]*?-->|<!\[CDATA\[([\s\S]*?)\]\]>|<\?[\s\S]*?\?>|<!|<(\/)?([A-Za-z_][\w:.-]*)((?:\s+[\w:.-]+\s*=\s*(?:"[^"<]*"|'[^'<]*'))*)\s*(\/)?>/g;
  const open: XmlElement[] = [];
  let root: XmlElement | null = null;
  let at = 0;
  let line = 1;
  const linesIn = (part: string): number => part.split(/\r\n|\n|\r/).length - 1;
  const addText = (part: string, raw: boolean): void => {
    const to = open.at(-1);
    if (part.trim() === '') return;
    if (part.includes('<')) throw new LineProblem(line + linesIn(part.slice(0, part.indexOf('<'))), 'a < that begins no element', remedy);
    if (!to) throw new LineProblem(line, 'text outside any element', remedy);
    if (to.text === '') to.textLine = line;
    to.text += raw ? part : unescaped(part, line);
  };
  for (let match = token.exec(text); match; match = token.exec(text)) {
    const between = text.slice(at, match.index);
    addText(between, false);
    line += linesIn(between);
    at = match.index + match[0].length;
    const [whole, cdata, closing, name, attributes = '', empty] = match;
    if (whole === '<!') throw new LineProblem(line, 'document types are not read', 'Take the DOCTYPE out');
    if (cdata !== undefined) {
      const to = open.at(-1);
      if (to) to.text += cdata;
    } else if (name !== undefined && closing) {
      const ended = open.pop();
      if (!ended || ended.name !== localName(name)) throw new LineProblem(line, `</${name}> closes nothing that is open`, remedy);
    } else if (name !== undefined) {
      if (root && open.length === 0) throw new LineProblem(line, `<${name}> stands after the end`, remedy);
      if (open.length >= deepest) throw new LineProblem(line, 'elements are nested too deeply', remedy);
      const element: XmlElement = { name: localName(name), line, attributes: attributesOf(attributes, line), children: [], text: '', textLine: line };
      open.at(-1)?.children.push(element);
      root ??= element;
      if (!empty) open.push(element);
    }
    line += linesIn(whole);
  }
  addText(text.slice(at), false);
  const unclosed = open.at(-1);
  if (unclosed) throw new LineProblem(unclosed.line, `<${unclosed.name}> is never closed`, 'The file was cut short: copy or export it again');
  if (!root) throw new LineProblem(1, 'there is no element in it', remedy);
  return root;
}

function attributesOf(source: string, line: number): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [, name = '', value = ''] of source.matchAll(/([\w:.-]+)\s*=\s*("[^"]*"|'[^']*')/g)) {
    if (Object.hasOwn(found, name)) throw new LineProblem(line, `${name} stands there twice`, remedy);
    Object.defineProperty(found, name, { value: unescaped(value.slice(1, -1), line), enumerable: true });
  }
  return found;
}

/** An element's text as numbers, each with the line it stands in should it be none. */
export function numbersIn(element: XmlElement, most: number, numberOf: (token: string, line: number) => number): number[] {
  const numbers: number[] = [];
  let line = element.textLine;
  for (const part of element.text.split(/(\r\n|\n|\r)/)) {
    if (/^[\r\n]+$/.test(part)) {
      line += 1;
      continue;
    }
    for (const word of part.split(/\s+/)) {
      if (word === '') continue;
      if (numbers.length >= most) throw new LineProblem(line, `more than ${most} numbers stand in <${element.name}>`, 'Correct its size, or export the file again');
      numbers.push(numberOf(word, line));
    }
  }
  return numbers;
}
