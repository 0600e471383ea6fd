import { readStrip } from '@relay/demo/scene/slate';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn as run } from '@relay/media/process/run';

/** Frame numbers read back from the slates of every decoded frame of an output. */
export async function slates(path: string, width: number, height: number, shape: number): Promise<number[]> {
  const found: number[] = [];
  let rest = Buffer.alloc(0);
  await run(
    ffmpeg,
    [
      '-v',
      'error',
      ...inputArguments(path),
      '-map',
      '0:v:0',
      '-vf',
      'extractplanes=y',
      '-fps_mode',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      'pipe:1',
    ],
    {
      onData: (chunk) => {
        rest = Buffer.concat([rest, chunk]);
        for (; rest.length >= width * height; rest = rest.subarray(width * height))
          found.push(readStrip(rest.subarray(0, width * height), width, height, shape));
      },
    },
  );
  return found;
}
