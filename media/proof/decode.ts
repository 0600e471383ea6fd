import type { DecodedFacts } from '@relay/core/proof/proof';
import type { Opened } from '../leg/open.ts';
import { complaints } from '../process/ffmpeg.ts';
import { runWatched, Stalled } from '../process/watched.ts';

/**
 * Decodes an output from end to end and counts what comes out: pictures, and samples of every sound track. `alsoTake`
 * are further outputs of the same decode. @throws Stalled
 */
export async function decodeWhole(
  { input, picture, sound }: Opened,
  soundTracks: number,
  signal?: AbortSignal,
  alsoTake: readonly string[] = [],
): Promise<DecodedFacts> {
  let frames = 0;
  const samples = Array.from({ length: soundTracks }, () => 0);
  const ended = await runWatched(
    [
      '-hide_banner',
      '-v',
      'error',
      '-nostats',
      ...input,
      ...(picture ? ['-map', picture, '-vsync', 'passthrough', '-f', 'null', '-'] : []),
      ...(soundTracks > 0
        ? [...samples.flatMap((_, track) => ['-map', sound(track)]), '-f', 'framecrc', 'pipe:1']
        : []),
      ...alsoTake,
    ],
    {
      ...(signal ? { signal } : {}),
      onProgress: (line) => {
        if (line.startsWith('frame=')) frames = Number(line.slice(6));
      },
      onLine: (line) => {
        // stream, dts, pts, duration in samples, size, checksum
        const fields = line.startsWith('#') ? [] : line.split(',');
        const stream = Number(fields[0]);
        if (fields.length >= 6 && samples[stream] !== undefined) samples[stream] += Number(fields[3]);
      },
    },
  );
  if (ended.stalled) throw new Stalled();
  const errors = complaints(ended.stderr);
  if (ended.code !== 0 && errors.length === 0) errors.push(`decoding ended with code ${ended.code ?? 'none'}`);
  return { frames, samples, errors };
}
