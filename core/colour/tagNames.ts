/**
 * What a file's colour tags are called by the standards that define them. The tags themselves are ITU-T H.273's code
 * points as FFmpeg prints them (libavutil, pixdesc.c); the names are those of H.273 (07/2021), tables 2, 3 and 4.
 */
const names: Readonly<Record<string, string>> = {
  bt709: 'BT.709',
  bt470m: 'BT.470 M',
  bt470bg: 'BT.470 B, G',
  smpte170m: 'ST 170',
  smpte240m: 'ST 240',
  film: 'film',
  bt2020: 'BT.2020',
  bt2020nc: 'BT.2020 NCL',
  bt2020c: 'BT.2020 CL',
  'bt2020-10': 'BT.2020, 10 bit',
  'bt2020-12': 'BT.2020, 12 bit',
  smpte428: 'ST 428-1',
  smpte431: 'RP 431-2',
  smpte432: 'EG 432-1',
  smpte2084: 'PQ (ST 2084)',
  smpte2085: "Y'D'zD'x (ST 2085)",
  'arib-std-b67': 'HLG (STD-B67)',
  'iec61966-2-1': 'sRGB',
  'iec61966-2-4': 'xvYCC',
  bt1361e: 'BT.1361',
  linear: 'linear',
  log100: 'log 100:1',
  log316: 'log 316:1',
  gbr: 'RGB',
  fcc: 'FCC',
  ycgco: 'YCgCo',
  ictcp: 'ICtCp',
};

/** A tag as its standard writes it; what has no name here stays as it is. */
export function sayTag(tag: string): string {
  return names[tag] ?? tag;
}
