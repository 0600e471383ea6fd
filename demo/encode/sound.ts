import { seeded } from '../scene/noise.ts';

export type Voice = 'sea' | 'bell' | 'silence' | 'stereo';

/** Samples of one voice, -1 to 1, at 48 kHz: a swell of filtered noise, or a buoy's bell that strikes on each whole second. */
function samples(voice: Exclude<Voice, 'stereo'>, count: number): Float32Array {
  const out = new Float32Array(count);
  const random = seeded(voice === 'sea' ? 5 : 6);
  let low = 0;
  for (let i = 0; i < count; i += 1) {
    const t = i / 48_000;
    if (voice === 'sea') {
      low += (random() * 2 - 1 - low) * 0.06;
      out[i] = low * 0.55 * (0.6 + 0.4 * Math.sin(t * 1.7));
    } else if (voice === 'bell') {
      const strike = t % 1;
      out[i] =
        0.42 *
        Math.exp(-strike * 5) *
        (Math.sin(2 * Math.PI * 523.25 * strike) +
          0.6 * Math.sin(2 * Math.PI * 1396.9 * strike) * Math.exp(-strike * 6));
    }
  }
  return out;
}

/** A WAV file (RIFF, PCM 24 bit, 48 kHz) of voices, a channel each; `stereo` carries the sea left and the bell right. */
export function wav(voice: Voice | readonly Exclude<Voice, 'stereo'>[], seconds: number): Buffer {
  const count = Math.round(seconds * 48_000);
  const voices = (voice === 'stereo' ? (['sea', 'bell'] as const) : typeof voice === 'string' ? [voice] : voice).map(
    (one) => samples(one, count),
  );
  const bytes = count * voices.length * 3;
  const file = Buffer.alloc(44 + bytes);
  file.write('RIFF', 0, 'latin1');
  file.writeUInt32LE(36 + bytes, 4);
  file.write('WAVEfmt ', 8, 'latin1');
  file.writeUInt32LE(16, 16);
  file.writeUInt16LE(1, 20);
  file.writeUInt16LE(voices.length, 22);
  file.writeUInt32LE(48_000, 24);
  file.writeUInt32LE(48_000 * voices.length * 3, 28);
  file.writeUInt16LE(voices.length * 3, 32);
  file.writeUInt16LE(24, 34);
  file.write('data', 36, 'latin1');
  file.writeUInt32LE(bytes, 40);
  for (let i = 0, at = 44; i < count; i += 1) {
    for (const voiceSamples of voices) {
      file.writeIntLE(Math.round(Math.max(-1, Math.min(1, voiceSamples[i] as number)) * 8_388_607), at, 3);
      at += 3;
    }
  }
  return file;
}
