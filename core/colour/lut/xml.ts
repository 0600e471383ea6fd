import { localName } from '../../text/tree.ts';
import { scanXml, XmlProblem } from '../../text/xml.ts';
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

/** No colour file has more elements or attributes, or nests them deeper. */
const most = { nodes: 200_000, depth: 40 } as const;

/** Reads XML into elements that know their lines. @throws LineProblem */
export function readXml(source: string): XmlElement {
  const open: XmlElement[] = [];
  let root: XmlElement | null = null;
  try {
    scanXml(source, most, {
      open: (name, attributes, line) => {
        const element: XmlElement = {
          name: localName(name),
          line,
          attributes: attributesOf(attributes),
          children: [],
          text: '',
          textLine: line,
        };
        open.at(-1)?.children.push(element);
        root ??= element;
        open.push(element);
      },
      text: (piece, line) => {
        const to = open.at(-1);
        if (!to || piece.trim() === '') return;
        if (to.text === '') to.textLine = line;
        to.text += piece;
      },
      close: () => void open.pop(),
    });
  } catch (error) {
    if (error instanceof XmlProblem) throw new LineProblem(error.line, error.what, error.remedy);
    throw error;
  }
  return root as unknown as XmlElement;
}

/** Attributes as a record that takes any name, `__proto__` among them. */
function attributesOf(pairs: readonly (readonly [string, string])[]): Record<string, string> {
  const found: Record<string, string> = {};
  for (const [name, value] of pairs) Object.defineProperty(found, name, { value, enumerable: true });
  return found;
}

/** An element's text as numbers, each with the line it stands in should it be none. */
export function numbersIn(
  element: XmlElement,
  most: number,
  numberOf: (token: string, line: number) => number,
): number[] {
  const numbers: number[] = [];
  let line = element.textLine;
  for (const part of element.text.split(/(\r\n|\n|\r)/)) {
    if (/^[\r\n]+$/.test(part)) {
      line += 1;
      continue;
    }
    for (const word of part.split(/\s+/)) {
      if (word === '') continue;
      if (numbers.length >= most)
        throw new LineProblem(
          line,
          `more than ${most} numbers stand in <${element.name}>`,
          'Correct its size, or export the file again',
        );
      numbers.push(numberOf(word, line));
    }
  }
  return numbers;
}
