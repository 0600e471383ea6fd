/**
 * A reader of XML 1.0 as data files have it: elements, attributes, text, comments, CDATA, and the five entities that
 * every document knows. Document types and entities of a file's own are refused, for what they could make grow. Every
 * letter is looked at a fixed number of times, and limits are kept while reading, so that no file takes longer than its
 * length.
 */

/** What goes wrong in a line of a file. */
export class XmlProblem extends Error {
  constructor(
    readonly line: number,
    readonly what: string,
    readonly remedy: string,
  ) {
    super(what);
  }
}

export interface XmlLimits {
  /** Elements and attributes together. */
  nodes: number;
  depth: number;
  /**
   * Entities that are not known stay as they are written, as recorders write them that know no better; else they are
   * refused.
   */
  lenient?: boolean;
}

/** Told of a document's parts in their order. Names have their prefixes. */
export interface XmlHandler {
  open: (name: string, attributes: readonly (readonly [string, string])[], line: number) => void;
  /** A piece of text; there may be several within one element. */
  text: (text: string, line: number) => void;
  close: (name: string) => void;
}

const entities: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };
const damaged = 'The file is damaged or no XML: export it again';

const name = /[\p{L}_:][\p{L}\p{N}\p{M}_:.\-·]*/uy;
const space = /[ \t\r\n]*/y;

/** A text with its entities written out. */
function unescaped(text: string, line: number, lenient: boolean): string {
  return text.includes('&')
    ? text.replace(/&([^;\s&]{0,12});?/g, (whole, entity: string) => {
        const number = /^#(?:x([0-9a-f]{1,6})|(\d{1,7}))$/i.exec(entity);
        const code = number ? parseInt(number[1] ?? number[2] ?? '', number[1] ? 16 : 10) : -1;
        if (code > 0 && code <= 0x10ffff) return String.fromCodePoint(code);
        const known = Object.hasOwn(entities, entity) ? entities[entity] : undefined;
        if (known === undefined && lenient) return whole;
        if (known === undefined) throw new XmlProblem(line, `&${entity}; is not known`, damaged);
        return known;
      })
    : text;
}

/** Where reading stands in a document, and in which line. */
class Place {
  at = 0;
  line = 1;

  constructor(readonly source: string) {}

  /** Goes on to `to`, counting the lines on the way. */
  moveTo(to: number): void {
    for (; this.at < to; this.at += 1) {
      const code = this.source.charCodeAt(this.at);
      if (code === 10 || (code === 13 && this.source.charCodeAt(this.at + 1) !== 10)) this.line += 1;
    }
  }

  /** What a sticky expression finds here; passed. */
  take(expression: RegExp): string {
    expression.lastIndex = this.at;
    const found = expression.exec(this.source)?.[0] ?? '';
    this.moveTo(this.at + found.length);
    return found;
  }

  startsWith(text: string): boolean {
    return this.source.startsWith(text, this.at);
  }

  /** What stands from here to `ending`, which is passed too. */
  upTo(ending: string, what: string): string {
    const end = this.source.indexOf(ending, this.at);
    if (end < 0)
      throw new XmlProblem(this.line, `${what} is never closed`, 'The file was cut short: copy or export it again');
    const text = this.source.slice(this.at, end);
    this.moveTo(end + ending.length);
    return text;
  }
}

/**
 * Reads a document, part by part.
 * @throws XmlProblem where it is not well-formed, or beyond the limits; what a handler throws goes through
 */
export function scanXml(source: string, limits: XmlLimits, handler: XmlHandler): void {
  const place = new Place(source);
  if (place.startsWith('\uFEFF')) place.at = 1;
  const open: { name: string; line: number }[] = [];
  let nodes = 0;
  let begun = false;
  const lenient = limits.lenient ?? false;
  const count = (): void => {
    nodes += 1;
    if (nodes > limits.nodes)
      throw new XmlProblem(place.line, `it holds more than ${limits.nodes} elements`, 'Leave it aside');
  };
  const takeText = (text: string, line: number, raw: boolean): void => {
    if (open.length > 0) handler.text(raw ? text : unescaped(text, line, lenient), line);
    else if (text.trim() !== '') throw new XmlProblem(line, 'text outside any element', damaged);
  };
  while (place.at < source.length) {
    const next = source.indexOf('<', place.at);
    const { line } = place;
    if (next !== place.at) {
      const end = next < 0 ? source.length : next;
      const text = source.slice(place.at, end);
      place.moveTo(end);
      takeText(text, line, false);
      continue;
    }
    if (place.startsWith('<!--')) {
      place.moveTo(place.at + 4);
      place.upTo('-->', 'a comment');
    } else if (place.startsWith('<![CDATA[')) {
      place.moveTo(place.at + 9);
      takeText(place.upTo(']]>', 'a CDATA section'), line, true);
    } else if (place.startsWith('<?')) place.upTo('?>', 'an instruction');
    else if (place.startsWith('<!')) throw new XmlProblem(line, 'document types are not read', 'Take the DOCTYPE out');
    else if (place.startsWith('</')) {
      place.moveTo(place.at + 2);
      const closing = place.take(name);
      place.take(space);
      const ended = open.pop();
      if (!place.startsWith('>') || ended?.name !== closing)
        throw new XmlProblem(line, `</${closing}> closes nothing that is open`, damaged);
      place.moveTo(place.at + 1);
      handler.close(closing);
    } else {
      const { name: opening, attributes, empty } = element(place, count, lenient);
      if (begun && open.length === 0) throw new XmlProblem(line, `<${opening}> stands after the end`, damaged);
      if (open.length >= limits.depth) throw new XmlProblem(line, 'elements are nested too deeply', damaged);
      begun = true;
      count();
      handler.open(opening, attributes, line);
      if (empty) handler.close(opening);
      else open.push({ name: opening, line });
    }
  }
  const unclosed = open.at(-1);
  if (unclosed)
    throw new XmlProblem(
      unclosed.line,
      `<${unclosed.name}> is never closed`,
      'The file was cut short: copy or export it again',
    );
  if (!begun) throw new XmlProblem(1, 'there is no element in it', damaged);
}

/** An element's beginning, from its `<` on. */
function element(
  place: Place,
  count: () => void,
  lenient: boolean,
): { name: string; attributes: [string, string][]; empty: boolean } {
  const { line } = place;
  place.moveTo(place.at + 1);
  const opening = place.take(name);
  if (opening === '') throw new XmlProblem(line, 'a < that begins no element', damaged);
  const attributes: [string, string][] = [];
  const seen = new Set<string>();
  for (;;) {
    const before = place.at;
    place.take(space);
    if (place.startsWith('>') || place.startsWith('/>')) break;
    const attribute = place.take(name);
    if (attribute === '' || before === place.at - attribute.length)
      throw new XmlProblem(place.line, `<${opening}> is not closed as it should be`, damaged);
    if (seen.has(attribute)) throw new XmlProblem(place.line, `${attribute} stands there twice`, damaged);
    seen.add(attribute);
    count();
    attributes.push([attribute, attributeValue(place, attribute, lenient)]);
  }
  const empty = place.startsWith('/>');
  place.moveTo(place.at + (empty ? 2 : 1));
  return { name: opening, attributes, empty };
}

function attributeValue(place: Place, attribute: string, lenient: boolean): string {
  place.take(space);
  if (!place.startsWith('=')) throw new XmlProblem(place.line, `${attribute} has no value`, damaged);
  place.moveTo(place.at + 1);
  place.take(space);
  const quote = place.source[place.at];
  if (quote !== '"' && quote !== "'")
    throw new XmlProblem(place.line, `the value of ${attribute} is not quoted`, damaged);
  const { line } = place;
  place.moveTo(place.at + 1);
  const value = place.upTo(quote, `the value of ${attribute}`);
  if (value.includes('<')) throw new XmlProblem(line, `the value of ${attribute} holds a <`, damaged);
  return unescaped(value, line, lenient);
}
