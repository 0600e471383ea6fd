import { readFile } from 'node:fs/promises';

/** One frame that a command gives out on the side: the filters that single it out, and what its samples are. */
export interface RawFrame {
  filters: string;
  format: string;
  /** Of the whole frame: one of another size was not had. */
  bytes: number;
}

/** Arguments of an output that writes the frame down. Once it is there, what leads to it stands still. */
export function rawFrameArguments({ filters, format }: RawFrame, stream: string, file: string): string[] {
  return [
    '-map',
    stream,
    '-filter:v',
    filters,
    '-frames:v',
    '1',
    '-fps_mode',
    'passthrough',
    '-f',
    'rawvideo',
    '-pix_fmt',
    format,
    `file:${file}`,
  ];
}

/** The frame's samples, 16 bits each; undefined where there was none. */
export async function readRawFrame({ bytes }: RawFrame, file: string): Promise<Uint16Array | undefined> {
  const all = await readFile(file).catch(() => Buffer.alloc(0));
  // Copied, so that the words are aligned.
  return all.length === bytes ? new Uint16Array(Uint8Array.from(all).buffer) : undefined;
}
