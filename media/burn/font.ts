import { fontFileOf, type FontFile } from '@relay/core/burn/font';
import { copyFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { under } from '@relay/core/naming/under';

const shipped = under(
  dirname(createRequire(import.meta.url).resolve('@fontsource/spline-sans-mono/package.json')),
  'files',
);

/** Lays the shipped font's files into a plainly named folder, for FFmpeg's filters to read. */
export async function layFonts(folder: string): Promise<void> {
  for (const file of ['latin', 'latin-ext'] as const)
    await copyFile(under(shipped, `spline-sans-mono-${file}-600-normal.woff2`), fontPath(folder, file));
}

export function fontPath(folder: string, file: FontFile): string {
  return under(folder, `${file}.woff2`);
}

/** Text divided by the font file that holds it, with the place of each part in characters. */
export function byFont(text: string): { file: FontFile; text: string; from: number }[] {
  const parts: { file: FontFile; text: string; from: number }[] = [];
  [...text].forEach((character, from) => {
    const file = fontFileOf(character) ?? 'latin';
    const last = parts.at(-1);
    if (last?.file === file) last.text += character;
    else parts.push({ file, text: character, from });
  });
  return parts;
}
