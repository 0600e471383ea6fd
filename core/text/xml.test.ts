import fc from 'fast-check';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { child, readXml, textOf } from './tree.ts';
import { scanXml, XmlProblem } from './xml.ts';

const limits = { nodes: 10_000, depth: 40 };

type Event = ['open', string, string[]] | ['close', string] | ['text', string];

/** What is told of a document, texts that follow each other as one; null where it is refused. */
function events(text: string): Event[] | null {
  const found: Event[] = [];
  try {
    scanXml(text, limits, {
      open: (name, attributes) => found.push(['open', name, attributes.flatMap((pair) => [...pair])]),
      close: (name) => found.push(['close', name]),
      text: (piece) => {
        const last = found.at(-1);
        if (last?.[0] === 'text') last[1] += piece;
        else found.push(['text', piece]);
      },
    });
  } catch (error) {
    if (error instanceof XmlProblem) return null;
    throw error;
  }
  return found.filter((event) => event[0] !== 'text' || event[1] !== '');
}

/** Python's expat, an implementation of its own. */
function expat(texts: readonly string[]): (Event[] | null)[] {
  const { stdout, status, stderr } = spawnSync(
    '/usr/bin/python3',
    [join(import.meta.dirname, '../../testing/expat.py')],
    { input: JSON.stringify(texts), encoding: 'utf8', maxBuffer: 64e6 },
  );
  expect(status, stderr).toBe(0);
  return JSON.parse(stdout) as (Event[] | null)[];
}

const word = fc.constantFrom('a', 'b', 'Clip', 'x:path', 'été', '_n');
const letters = fc.constantFrom(
  'x',
  ' ',
  '\n',
  '&amp;',
  '&lt;',
  '&#65;',
  '&#x1F600;',
  '>',
  '"',
  "'",
  'ü',
  '😀',
  ']]',
  '-',
);
const text = fc.array(letters, { maxLength: 6 }).map((parts) => parts.join(''));
const { document } = fc.letrec<{ element: string; document: string }>((tie) => ({
  element: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    fc.tuple(word, fc.boolean()).map(([name, blank]) => `<${name}${blank ? ' ' : ''}/>`),
    fc
      .tuple(
        word,
        fc.uniqueArray(word, { maxLength: 3 }),
        fc.array(text, { minLength: 3, maxLength: 3 }),
        fc.array(fc.oneof(tie('element'), text, fc.constantFrom('<!-- c -->', '<![CDATA[<raw>&amp;]]>', '<?pi x?>')), {
          maxLength: 4,
        }),
      )
      .map(
        ([name, attributes, values, inner]) =>
          `<${name}${attributes.map((attribute, index) => ` ${attribute}="${(values[index] ?? '').replaceAll('"', '').replace(/[\n]/g, '')}"`).join('')}>${inner.join('')}</${name}>`,
      ),
  ),
  document: tie('element').map((element) => `<?xml version="1.0"?>\n${element}\n`),
}));

describe('XML', () => {
  it('is read as expat reads it, and what expat refuses is refused', () => {
    const whole = fc.sample(document, { numRuns: 400, seed: 20261126 });
    // The same with something taken out, put in or doubled.
    const hurt = fc
      .sample(
        fc.tuple(document, fc.nat(), fc.constantFrom('', '<', '>', '&', '"', '/', '</a>', '<a>', '=', '<!--', ']]')),
        { numRuns: 600, seed: 7 },
      )
      .map(([one, at, put]) => `${one.slice(0, at % one.length)}${put}${one.slice((at % one.length) + 1)}`);
    const all = [...whole, ...hurt];
    const wanted = expat(all);
    let refused = 0;
    all.forEach((one, index) => {
      const reference = wanted[index] ?? null;
      if (reference === null) refused += 1;
      // Prefixes that nobody declared, `>` behind `]]` and a declaration in odd places trouble data files' readers as
      // little as ours.
      const found = events(one);
      if (reference !== null) expect(found, one).toEqual(reference);
      else if (found !== null) expect(/\]\]>|<\?|\p{Cs}/u.test(one), one).toBe(true);
    });
    expect(refused).toBeGreaterThan(100);
    expect(all.length - refused).toBeGreaterThan(400);
  });

  it('has characters by number from 1 up to the last of Unicode', () => {
    const texts = ['&#1;', '&#x10FFFF;', '&#0;', '&#x0;', '&#x110000;', '&#1114112;'].map((one) => `<a>${one}</a>`);
    expect(texts.map((one) => events(one)?.[1]?.[1] ?? null)).toEqual(['\u0001', '\u{10FFFF}', null, null, null, null]);
  });

  it('keeps to its limits while it reads, and says in which line', () => {
    const said = (source: string, most = limits): string => {
      try {
        scanXml(source, most, { open: () => undefined, text: () => undefined, close: () => undefined });
        return 'read';
      } catch (error) {
        return `${(error as XmlProblem).line}: ${(error as XmlProblem).what}`;
      }
    };
    expect(said(`<a>${'<b/>'.repeat(20)}</a>`, { nodes: 10, depth: 40 })).toBe('1: it holds more than 10 elements');
    expect(
      said(`<a ${Array.from({ length: 20 }, (_, index) => `n${index}="1"`).join(' ')}/>`, { nodes: 10, depth: 40 }),
    ).toBe('1: it holds more than 10 elements');
    expect(said('\n<a>\r\n<b>\r<c>\n</a>')).toBe('5: </a> closes nothing that is open');
    expect(said('<a>'.repeat(50))).toBe('1: elements are nested too deeply');
    expect(said('<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>')).toBe('1: document types are not read');
    expect(said('<a>&nbsp;</a>')).toBe('1: &nbsp; is not known');
    expect(said('<a b="1" b="2"/>')).toBe('1: b stands there twice');
  });

  it('as a tree forgets what was taken, and leaves unknown entities as they stand', () => {
    const taken: string[] = [];
    const read = readXml(
      '<list xmlns:m="x"><m:hash a="&amp;"><path>é&nbsp;</path></m:hash><rest>1</rest></list>',
      undefined,
      (tree) => {
        if (tree.name === 'm:hash') taken.push(textOf(tree, 'path') ?? '');
        return tree.name === 'm:hash';
      },
    );
    expect(taken).toEqual(['é&nbsp;']);
    expect(read.ok && [child(read.value, 'hash'), textOf(read.value, 'rest')]).toEqual([undefined, '1']);
  });
});
