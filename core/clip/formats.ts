/** Names of codecs and wrappers, and of formats that are known but closed. A new one is a new row. */

/** Codecs by the short names that FFmpeg gives them → their published names. */
const codecNames: Readonly<Record<string, string>> = {
  h264: 'H.264',
  hevc: 'HEVC',
  av1: 'AV1',
  vp9: 'VP9',
  mpeg2video: 'MPEG-2',
  mpeg4: 'MPEG-4 Part 2',
  prores: 'ProRes',
  dnxhd: 'VC-3',
  cfhd: 'VC-5',
  mjpeg: 'Motion JPEG',
  dvvideo: 'DV',
  ffv1: 'FFV1',
  v210: 'v210 uncompressed',
  rawvideo: 'uncompressed',
  jpeg2000: 'JPEG 2000',
  vc1: 'VC-1',
  qtrle: 'Animation RLE',
  png: 'PNG',
  aac: 'AAC',
  ac3: 'AC-3',
  eac3: 'E-AC-3',
  mp3: 'MP3',
  mp2: 'MP2',
  opus: 'Opus',
  flac: 'FLAC',
  alac: 'ALAC',
  vorbis: 'Vorbis',
};

export function codecName(id: string): string {
  const pcm = /^pcm_[suf](\d+)/.exec(id);
  return codecNames[id] ?? (pcm ? `PCM ${pcm[1]} bit` : id);
}

/** Closed camera raw, by the four letters in the file or by ending: named, copied, but not decoded here. */
const closedByTag: Readonly<Record<string, string>> = {
  aprn: 'ProRes RAW',
  aprh: 'ProRes RAW HQ',
  brhq: 'a closed camera raw codec',
  crx: 'a closed camera raw codec',
  CRAW: 'a closed camera raw codec',
};
const closedByEnding: Readonly<Record<string, string>> = {
  r3d: 'R3D camera raw',
  braw: 'BRAW camera raw',
  crm: 'CRM camera raw',
  ari: 'ARI camera raw',
  arx: 'ARX camera raw',
  nev: 'NEV camera raw',
  rmf: 'RMF camera raw',
  dng: 'CinemaDNG frame',
};

export function closedFormat(path: string, codecTag?: string): string | null {
  const ending = /\.([A-Za-z0-9]{1,5})$/.exec(path)?.[1]?.toLowerCase() ?? '';
  return (codecTag ? closedByTag[codecTag] : undefined) ?? closedByEnding[ending] ?? null;
}

/** Endings of what lies beside essence on cards and must stay there: never opened as media. */
const sidecarEndings = new Set([
  'xml',
  'bim',
  'smi',
  'ppn',
  'thm',
  'cpi',
  'mpl',
  'bdm',
  'idx',
  'cpf',
  'cif',
  'bin',
  'dat',
  'txt',
  'csv',
  'json',
  'mhl',
  'md5',
  'xxh',
  'sha1',
  'pdf',
  'htm',
  'html',
  'ale',
  'edl',
  'cube',
  'cdl',
  'cc',
  'ccc',
  'clf',
  'lut',
  'otio',
  'jpg',
  'jpeg',
  'png',
  'tif',
  'tiff',
  'srt',
  'lrf',
  'ds_store',
  'ini',
  'db',
  'log',
  'sif',
  'rsv',
  'aux',
]);

export function isSidecar(path: string): boolean {
  const name = path.slice(path.lastIndexOf('/') + 1);
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  return name.startsWith('._') || (name.includes('.') && sidecarEndings.has(ending));
}

/** Endings of files that cameras, recorders and editors make to be played. */
const mediaEndings = new Set(
  'mov mp4 m4v mxf mts m2ts m2t ts mpg mpeg m2v avi mkv webm dv gxf wmv flv 3gp 3g2 ogv wav w64 bwf rf64 aif aiff flac mp3 m4a aac ogg opus'.split(
    ' ',
  ),
);

function endingOf(path: string): string | null {
  return /\.([A-Za-z0-9]{1,8})$/.exec(path)?.[1]?.toLowerCase() ?? null;
}

/** The ending of a file that says of itself that it is no clip; null where it may be one, or says nothing. */
export function foreignEnding(path: string): string | null {
  const ending = endingOf(path);
  return ending !== null && !mediaEndings.has(ending) ? ending : null;
}

/** Whether a file's name promises a clip, decodable here or not; only opening it tells. */
export function namedLikeClip(path: string): boolean {
  const ending = endingOf(path) ?? '';
  return !isSidecar(path) && (mediaEndings.has(ending) || ending === 'raw' || closedFormat(path) !== null);
}
