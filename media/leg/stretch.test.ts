import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sampleClip } from '@relay/core/clip/sample';
import { rational } from '@relay/core/time/rational';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ffmpeg } from '../process/ffmpeg.ts';
import { runOwn } from '../process/run.ts';
import { soundFilters } from './sound.ts';

const sampleRate = 48_000;
const seconds = 12;
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'relay-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Bursts of 3 kHz, 20 ms long, in the middle of each second. */
const bursts = Float32Array.from({ length: seconds * sampleRate }, (_, i) => {
  const from = (i % sampleRate) - sampleRate / 2 + 480;
  return from < 0 || from >= 960
    ? 0
    : 0.6 * Math.sin((Math.PI * from) / 960) ** 2 * Math.sin((2 * Math.PI * 3000 * i) / sampleRate);
});

/** The middle of what sounds within 200 ms of a place, in samples. */
function middle(samples: Float32Array, about: number): number {
  let [sum, moment] = [0, 0];
  for (let i = Math.max(0, Math.round(about - 9600)); i < Math.min(samples.length, about + 9600); i += 1) {
    const power = (samples[i] as number) ** 2;
    sum += power;
    moment += power * i;
  }
  return moment / sum;
}

describe('sound whose pitch is kept', () => {
  it.each([
    [24, 25, 8],
    [25, 24, 8],
    [60, 24, 25],
    [24, 60, 12],
  ])(
    'from %d to %d is as long as its pictures, each burst within %d ms of its picture, and as high',
    async (from, to, most) => {
      const by = rational(from, to);
      const samples = Math.round((bursts.length * from) / to);
      const input = join(folder, 'bursts.f32');
      await writeFile(input, Buffer.from(bursts.buffer));
      const filters = soundFilters(
        { sampleRate, samples, tracks: [], stretch: { by, pitch: 'kept' } },
        rational(0),
        sampleClip(),
      );
      const output = join(folder, `${from}-${to}.f32`);
      await runOwn(ffmpeg, [
        '-v',
        'error',
        '-y',
        '-f',
        'f32le',
        '-ar',
        String(sampleRate),
        '-ac',
        '1',
        '-i',
        input,
        '-af',
        filters,
        '-f',
        'f32le',
        output,
      ]);
      const bytes = await readFile(output);
      const made = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
      expect(made.length).toBe(samples);
      for (let second = 0; second < seconds; second += 1) {
        const wanted = ((second + 0.5) * sampleRate * from) / to;
        expect(Math.abs(middle(made, wanted) - wanted) / 48, `burst ${second}`).toBeLessThan(most);
      }
      // As high: as many crossings of zero in a burst's middle 10 ms as 3 kHz has, within two.
      const at = Math.round(middle(made, (5.5 * sampleRate * from) / to));
      let crossings = 0;
      for (let i = at - 240; i < at + 240; i += 1)
        if (Math.sign(made[i] as number) !== Math.sign(made[i + 1] as number)) crossings += 1;
      expect(Math.abs(crossings - 60)).toBeLessThanOrEqual(2);
    },
  );
});
