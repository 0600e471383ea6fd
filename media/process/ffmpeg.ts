/** The two programs that come with FFmpeg's libraries, and how a file that nobody trusts is handed to them. */
export const ffmpeg = process.env.RELAY_FFMPEG ?? 'ffmpeg';
export const ffprobe = process.env.RELAY_FFPROBE ?? 'ffprobe';

/**
 * What Debian's own two are told of the order in which their symbols are looked for: as `./relay` found it
 * (linkOrder.ts). Others than Debian's are told nothing.
 */
export function linking(program: string): Readonly<Record<string, string>> {
  const first = process.env.RELAY_FIRST_LIBRARIES;
  return first && (program === 'ffmpeg' || program === 'ffprobe') ? { LD_PRELOAD: first } : {};
}

/**
 * Wrappers that camera originals and sound come in. What is not in this list is not opened: above all playlists
 * and concatenation scripts, which name other files, and raw streams, which anything can be taken for.
 */
const wrappers = [
  'mov',
  'mxf',
  'mpegts',
  'mpeg',
  'avi',
  'matroska',
  'wav',
  'w64',
  'aiff',
  'flac',
  'ogg',
  'mp3',
  'dv',
  'gxf',
  'asf',
  'flv',
];

/** A picture of more samples than this is refused rather than given memory; no camera's is larger than 12288 × 8192. */
export const largestPicture = 12_288 * 8_192;

/** Arguments that open one file and nothing else: no other protocol, no other wrapper, no pattern in its name. */
export function inputArguments(path: string, largest = largestPicture): string[] {
  return [
    '-protocol_whitelist',
    'file',
    '-format_whitelist',
    wrappers.join(','),
    '-max_pixels',
    String(largest),
    '-i',
    `file:${path}`,
  ];
}

/**
 * Arguments that open images of our own making, numbered from `first`, shown at `rate`. `pattern` is a path with a
 * number's place in it, `%` doubled elsewhere.
 */
export function imagesArguments(pattern: string, first: number, rate: string): string[] {
  return [
    '-protocol_whitelist',
    'file',
    '-format_whitelist',
    'image2',
    '-max_pixels',
    String(largestPicture),
    '-framerate',
    rate,
    '-start_number',
    String(first),
    '-pattern_type',
    'sequence',
    '-f',
    'image2',
    '-i',
    `file:${pattern}`,
  ];
}

/**
 * Arguments that open a list of our own making, and the files in it. Those were each described under the list above
 * before they could be chapters of a clip; the list itself is never a user's.
 */
export function joinedArguments(list: string): string[] {
  return [
    '-protocol_whitelist',
    'file',
    '-format_whitelist',
    ['concat', ...wrappers].join(','),
    '-max_pixels',
    String(largestPicture),
    '-f',
    'concat',
    '-safe',
    '0',
    '-i',
    `file:${list}`,
  ];
}

/** The complaint lines of FFmpeg without addresses, full stops and repeats, at most `limit`. */
export function complaints(stderr: string, limit = 6): string[] {
  const lines = stderr
    .split('\n')
    .map((line) =>
      line
        .replace(/\[([^\][@]+) @ 0x[0-9a-f]+\] ?/g, (_, part: string) => (part === 'NULL' ? '' : `${part}: `))
        .trim()
        .replace(/\.$/, ''),
    )
    // What is said of a timecode track is no damage of pictures or sound; the description deals with it.
    .filter(
      (line) =>
        line !== '' &&
        !/Drop frame is only allowed with multiples of/.test(line) &&
        // A library was exchanged since their order was found: it is found without.
        !/^ERROR: ld\.so: object .* from LD_PRELOAD/.test(line) &&
        !/^Last message repeated/.test(line),
    );
  return [...new Set(lines)].slice(0, limit);
}

/** Whether FFmpeg complains that a disk is full: it says so by its words alone. */
export function saysDiskFull(lines: readonly string[]): boolean {
  return lines.some((line) => line.includes('No space left'));
}

/** What FFmpeg failed of, as an Error with the system's code where it is one that is asked about. */
export function failureOf(stderr: string): Error {
  const lines = complaints(stderr);
  const error = new Error(lines.at(-1) ?? 'FFmpeg gave no reason');
  return saysDiskFull(lines) ? Object.assign(error, { code: 'ENOSPC' }) : error;
}
