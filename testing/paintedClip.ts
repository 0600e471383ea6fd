import { join } from 'node:path';
import type { ClipDescription } from '@relay/core/clip/description';
import { originals, type Original } from '@relay/demo/originals';
import { paintOriginal } from '@relay/demo/paint';
import { describeFile } from '@relay/media/describe/describe';

/** Paints one of the demo's originals into a folder, by its name, shorter or smaller if told, and describes it. */
export async function paintedClip(
  name: string,
  folder: string,
  more: Partial<Pick<Original, 'frames' | 'width' | 'height'>> = {},
): Promise<ClipDescription> {
  const painted = originals.find(({ path }) => path.endsWith(name));
  if (!painted) throw new Error(`${name} is not painted`);
  await paintOriginal({ ...painted, ...more, path: name }, folder);
  return (await describeFile(join(folder, name), name)) as ClipDescription;
}
