import { rational } from '@relay/core/time/rational';
import { wav } from './encode/sound.ts';
import { cameras, type Original, type PaintedSet } from './originals.ts';
import { seeded } from './scene/noise.ts';

/** Cards that lie beside the bay at the first start, as they come from set on the second day: folders are cards. */
const { aCamera, base, log, pcm24, tags709, fast, passage, lastBoat, shore, reel } = cameras;

const pocket = {
  ...base,
  width: 1280,
  height: 720,
  rate: rational(25),
  frames: 30,
  noise: 300,
  sound: ['stereo'],
  encode: ['-c:v', 'libx264', ...fast, '-pix_fmt', 'yuv420p', '-crf', '20', ...tags709, '-c:a', 'aac', '-b:a', '128k'],
} as const;

const originals: readonly Original[] = [
  {
    ...aCamera,
    sound: [...aCamera.sound],
    path: 'card-A-2/CLIPS/A002C001.mov',
    title: 'A002 C001',
    shot: { ...lastBoat, seed: 81 },
    frames: 36,
    timecode: '20:31:04:00',
    encode: [...log, ...pcm24, ...reel('A002')],
  },
  {
    ...aCamera,
    sound: [...aCamera.sound],
    path: 'card-A-2/CLIPS/A002C002.mov',
    title: 'A002 C002',
    shot: { ...passage, seed: 82 },
    frames: 30,
    timecode: '20:36:40:12',
    encode: [...log, ...pcm24, ...reel('A002')],
  },
  {
    ...aCamera,
    sound: [...aCamera.sound],
    path: 'card-A-2/CLIPS/A002C004.mov',
    title: 'A002 C004',
    shot: { ...passage, seed: 83, dusk: 0.7 },
    frames: 24,
    timecode: '20:44:02:03',
    encode: [...log, ...pcm24, ...reel('A002')],
  },
  // One recording that the camera wrote in three files.
  ...[
    ['01', '21:10:00:00'],
    ['02', '21:10:01:05'],
    ['03', '21:10:02:10'],
  ].map(([part, timecode], index): Original => ({
    ...pocket,
    sound: [...pocket.sound],
    encode: [...pocket.encode],
    frames: index === 2 ? 20 : 30,
    path: `card-V-1/VIDEO/V0034_${part}.mp4`,
    title: `V0034 ${part}`,
    shot: { ...shore, seed: 90, dusk: 0.8 + index * 0.05 },
    timecode: timecode as string,
  })),
];

function clipXml(scene: string, take: number, circled: boolean, note: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>\n<clip>\n  <scene>${scene}</scene>\n  <take>${take}</take>\n  <camera>A</camera>\n  <circled>${circled ? 'yes' : 'no'}</circled>\n  <note>${note}</note>\n</clip>\n`;
}

/** Bytes of a closed format: nobody's, only the ending says so. */
function closedRaw(bytes: number): Buffer {
  const random = seeded(404);
  return Buffer.from(Uint8Array.from({ length: bytes }, () => Math.floor(random() * 256)));
}

export const cards: PaintedSet = {
  edition: 2,
  originals,
  companions: [
    {
      path: 'card-A-2/CARD.XML',
      content:
        '<?xml version="1.0" encoding="UTF-8"?>\n<card camera="A"><clip file="CLIPS/A002C001.mov"/><clip file="CLIPS/A002C002.mov"/><clip file="CLIPS/A002C004.mov"/></card>\n',
    },
    { path: 'card-A-2/CLIPS/A002C001.XML', content: clipXml('14', 3, true, 'The last boat, from the quay') },
    { path: 'card-A-2/CLIPS/A002C002.XML', content: clipXml('14', 4, false, 'Focus late') },
    { path: 'card-A-2/CLIPS/A002C004.XML', content: clipXml('15', 1, true, 'Lamp goes out') },
    { path: 'card-A-2/RAW/X001C001.raw', content: closedRaw(200_000) },
    {
      path: 'card-V-1/VIDEO/INDEX.XML',
      content:
        '<?xml version="1.0" encoding="UTF-8"?>\n<index><recording><part>V0034_01.mp4</part><part>V0034_02.mp4</part><part>V0034_03.mp4</part></recording></index>\n',
    },
    { path: 'card-R-1/SOUND/S14T3.wav', content: wav(['sea', 'bell', 'silence', 'sea'], 3) },
    {
      path: 'card-R-1/SOUND/S14T3.XML',
      content:
        '<?xml version="1.0" encoding="UTF-8"?>\n<take><scene>14</scene><take>3</take><tape>R001</tape></take>\n',
    },
    { path: 'card-R-1/SOUND/S14T4.wav', content: wav(['sea', 'bell', 'silence', 'sea'], 2.5) },
  ],
};
