import type { Probed } from './probe.ts';

/**
 * Pairs of tags in which wrappers keep maker and model: QuickTime File Format (user data and metadata keys), what phones
 * write beside it (from memory), and MXF's identification set (SMPTE ST 377-1), in FFmpeg's names.
 */
const pairs = [
  ['com.apple.quicktime.make', 'com.apple.quicktime.model'],
  ['com.android.manufacturer', 'com.android.model'],
  ['make', 'model'],
  ['company_name', 'product_name'],
] as const;
const longest = 80;

/** Maker and model of what wrote the file, where it names them: at most 80 characters, on one line. */
export function deviceOf({ format, streams }: Probed): { device?: string } {
  for (const tags of [format.tags, streams.find((stream) => stream.codec_type === 'video')?.tags])
    for (const [maker, model] of pairs) {
      const [by, what] = [plain(tags?.[maker]), plain(tags?.[model])];
      const name = what.toLowerCase().startsWith(by.toLowerCase()) ? what : `${by} ${what}`.trim();
      if (name !== '') return { device: [...name].slice(0, longest).join('').trim() };
    }
  return {};
}

function plain(text: string | undefined): string {
  return (text ?? '').replace(/[\p{Cc}\p{Cf}|\s]+/gu, ' ').trim();
}
