import { fail, ok, type Result } from '../../result.ts';
import { cdlProblem, noCdl } from '../ops/cdl.ts';
import type { Cdl } from '../ops/op.ts';
import { largestText, LineProblem, numberIn } from './read.ts';
import { numbersIn, readXml, type XmlElement } from './xml.ts';

/** One correction of a .cc, .ccc or .cdl file. */
export interface NamedCdl {
  id: string | null;
  notes: string[];
  cdl: Cdl;
}

/** Texts that describe an element. */
export function descriptionsOf(element: XmlElement): string[] {
  return element.children
    .filter((child) =>
      /^(Description|InputDescription|ViewingDescription|SOPDescription|SATDescription)$/.test(child.name),
    )
    .map((child) => child.text.trim())
    .filter((text) => text !== '');
}

function three(element: XmlElement | undefined, fallback: readonly [number, number, number]): [number, number, number] {
  if (!element) return [...fallback];
  const numbers = numbersIn(element, 3, numberIn);
  if (numbers.length !== 3)
    throw new LineProblem(
      element.line,
      `<${element.name}> holds ${numbers.length === 1 ? 'one number' : `${numbers.length} numbers`} where three belong`,
      'Give one for each of red, green and blue',
    );
  return numbers as [number, number, number];
}

/** Slope, offset, power and saturation below an element; what is absent changes nothing. */
export function readSopAndSat(element: XmlElement): Cdl {
  const only = (name: RegExp): XmlElement | undefined => {
    const found = element.children.filter((child) => name.test(child.name));
    if (found[1]) throw new LineProblem(found[1].line, `<${found[1].name}> stands there twice`, 'Take one of them out');
    return found[0];
  };
  const sop = only(/^SOPNode$/);
  const sat = only(/^S(at|AT)Node$/);
  const within = (name: string): XmlElement | undefined => sop?.children.find((child) => child.name === name);
  const saturation = sat?.children.find((child) => child.name === 'Saturation');
  const [amount = 1, ...more] = saturation ? numbersIn(saturation, 2, numberIn) : [1];
  if (saturation && (more.length > 0 || saturation.text.trim() === ''))
    throw new LineProblem(saturation.line, '<Saturation> takes one number', 'Correct it');
  const cdl: Cdl = {
    slope: three(within('Slope'), noCdl.slope),
    offset: three(within('Offset'), noCdl.offset),
    power: three(within('Power'), noCdl.power),
    saturation: amount,
  };
  const problem = cdlProblem(cdl);
  if (problem) throw new LineProblem(element.line, problem, 'Correct it, or export the file again');
  return cdl;
}

function collect(element: XmlElement, into: NamedCdl[]): void {
  if (element.name === 'ColorCorrection') {
    if (into.length >= 100_000)
      throw new LineProblem(element.line, 'there are more than 100,000 corrections', 'Split the file');
    into.push({
      id: element.attributes.id ?? null,
      notes: descriptionsOf(element).concat(element.children.flatMap(descriptionsOf)),
      cdl: readSopAndSat(element),
    });
    return;
  }
  for (const child of element.children) collect(child, into);
}

/** Reads .cc, .ccc and .cdl (ASC CDL v1.2): every correction in it, in order. */
export function readCdlFile(text: string): Result<NamedCdl[]> {
  if (text.length > largestText) return fail('the file is too large for a CDL', 'Split it');
  try {
    const root = readXml(text);
    if (!/^(ColorCorrection|ColorCorrectionCollection|ColorDecisionList)$/.test(root.name)) {
      return fail(`line ${root.line}: <${root.name.slice(0, 60)}> is no CDL`, 'Give a .cc, .ccc or .cdl file');
    }
    const found: NamedCdl[] = [];
    collect(root, found);
    return found.length > 0 ? ok(found) : fail('there is no ColorCorrection in it', 'Export the file again');
  } catch (error) {
    if (error instanceof LineProblem) return { ok: false, problem: error.problem };
    throw error;
  }
}
