import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { surround } from './surround.ts';

const css = readFileSync(join(import.meta.dirname, '..', 'styles.css'), 'utf8');

function tokens(selector: string): Record<string, string> {
  const block = css.slice(css.indexOf(selector)).split('}')[0] ?? '';
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map((match) => [match[1], match[2]]));
}

/** Relative luminance and contrast ratio, WCAG 2.2. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((at) => parseInt(hex.slice(at, at + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}
function contrast(a: string, b: string): number {
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p) as [number, number];
  return (x + 0.05) / (y + 0.05);
}

it('measures contrast as the standard does: black on white is 21', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 6);
});

describe('around pictures', () => {
  const neutral = tokens('/* Around pictures');
  it.each(['ink', 'dim', 'wrong'])('%s is readable on the surround and in its wells (WCAG AA, 4.5:1)', (name) => {
    for (const surface of ['surround', 'surround-well'])
      expect(contrast(neutral[`surround-${name}`] as string, neutral[surface] as string)).toBeGreaterThanOrEqual(4.5);
  });
  it('canvases draw with the same', () => {
    expect([surround.ground, surround.ink]).toEqual([neutral.surround, neutral['surround-ink']]);
  });
});

describe.each([':root {', ":root[data-theme='chalk'] {"])('%s', (selector) => {
  const theme = tokens(selector);
  const surfaces = ['ground', 'sheet', 'raised'];
  it.each(['ink', 'dim', 'faint', 'teal', 'amber', 'rose', 'sky'])(
    '%s is readable on every surface (WCAG AA, 4.5:1)',
    (name) => {
      for (const surface of surfaces)
        expect([surface, contrast(theme[name] as string, theme[surface] as string) >= 4.5]).toEqual([surface, true]);
    },
  );
  it('the clay button is readable', () => {
    expect(contrast(theme['on-clay'] as string, theme.clay as string)).toBeGreaterThanOrEqual(4.5);
  });
});
