import { sayBytes } from '../size/sayBytes.ts';
import type { RelinkRow } from '../relink/sheet.ts';
import { systemNames, memberSystems, systemPath, type MemberSystem } from '../naming/systemPath.ts';
import { pairsOf } from './pairs.ts';
import type { HeldItem } from './travel.ts';

/** What a hand-off says of itself. */
export interface ReadMe {
  name: string;
  production: string;
  receiver: string;
  /** The day, as YYYY-MM-DD. */
  day: string;
  rows: readonly RelinkRow[];
  /** Originals, with what lies beside them. */
  originals: number;
  files: number;
  bytes: number;
  replaced: readonly string[];
  toDelete: readonly HeldItem[];
  /** Names of the files that are written beside this one. */
  names: { csv: string; json: string; otio: string };
  /** Where the drive lies on the receiver's machines. */
  roots: Partial<Record<MemberSystem, string>>;
}

function counted(values: readonly string[]): string[] {
  const counts = new Map<string, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]).map(([value, count]) => `${count} × ${value}`);
}

function wrapped(text: string, width = 78): string {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(' ')) {
    if (line !== '' && line.length + 1 + word.length > width) {
      lines.push(line);
      line = word;
    } else line = line === '' ? word : `${line} ${word}`;
  }
  return [...lines, line].join('\r\n');
}

function listed(title: string, lines: readonly string[], most = 40): string[] {
  if (lines.length === 0) return [];
  const rest = lines.length - most;
  return [title, ...lines.slice(0, most).map((line) => `  ${line}`), ...(rest > 0 ? [`  and ${rest} more`] : []), ''];
}

/** The two folders to exchange, where there are outputs of both roles. */
function exchange(rows: readonly RelinkRow[], roots: ReadMe['roots']): string[] {
  const { roots: two, pairs, low, high } = pairsOf(rows, 'proxy', 'intermediate');
  if (!two || pairs.length === 0) return [];
  const good = pairs.filter(({ differs }) => differs.length === 0).length;
  const systems = memberSystems.flatMap((system) => {
    const root = roots[system];
    return root === undefined || root === ''
      ? []
      : [
          `${systemNames[system]}:`,
          `  ${systemPath(root, two.low, system)}`,
          `  ${systemPath(root, two.high, system)}`,
        ];
  });
  return [
    `FROM ${low.toUpperCase()} TO ${high.toUpperCase()}`,
    wrapped(
      `${good} of ${pairs.length} pairs have the same name, folder, start timecode, frames, rate and channels: exchange the first of these folders for the second, and everything is found.`,
    ),
    ...(systems.length > 0 ? systems : [`  ${two.low || '.'}`, `  ${two.high || '.'}`]),
    '',
  ];
}

/** `READ ME.txt`: what this is, how to relink in general words, rates, sound, what was corrected. Lines end for every system. */
export function readMeText(of: ReadMe): string {
  const { rows, names } = of;
  const rates = counted(rows.map(({ rate }) => rate || 'sound alone'));
  const sound = counted(
    rows.map(({ channelsByTrack }) =>
      channelsByTrack === ''
        ? 'no sound'
        : `${channelsByTrack.split(' ').length} tracks, channels by track: ${channelsByTrack}`,
    ),
  );
  const corrected = counted(rows.map(({ corrected: words }) => words).filter((words) => words !== ''));
  const eyes = rows.filter(({ state }) => state !== 'proved').map(({ output }) => output);
  const luts = [...new Set(rows.map(({ lut }) => lut ?? '').filter((lut) => lut !== ''))];
  const lines = [
    of.name,
    [of.production, of.receiver === '' ? '' : `for ${of.receiver}`, of.day].filter((word) => word !== '').join(', '),
    '',
    'WHAT THIS IS',
    wrapped(
      `${of.files} files, ${sayBytes(of.bytes)}: ${rows.length} outputs${of.originals > 0 ? `, ${of.originals} camera originals and what lies beside them` : ''}. Folders are those that they were made in: keep them as they are.`,
    ),
    '',
    'HOW TO RELINK',
    wrapped(
      `Point your program at this folder. Names, reels, start timecodes, rates and channel counts are in ${names.csv} (a table) and ${names.json}, each output with the camera original that it was made from. ${names.otio} has every clip with its files, relative to this folder, for programs that read OpenTimelineIO.`,
    ),
    '',
    ...exchange(rows, of.roots),
    ...listed('RATES', rates),
    ...listed('SOUND', sound),
    ...listed('WHAT WAS CORRECTED', corrected, 20),
    ...listed('LUTS THAT LIE BESIDE', luts),
    ...listed('NOT PROVED IN EVERYTHING: LOOK AT THESE', eyes),
    ...listed('REPLACED SINCE THE LAST TIME', of.replaced),
    ...listed(
      'TO DELETE: AN OLDER VERSION OF SOMETHING HERE',
      of.toDelete.map(({ path }) => path),
    ),
    'WHETHER IT CAME WHOLE',
    wrapped(
      'The folder ascmhl states the checksum of every file (ASC MHL, an open format); any program that reads it can verify this folder.',
    ),
    '',
  ];
  return lines.join('\r\n').replace(/\r?\n/g, '\r\n');
}
