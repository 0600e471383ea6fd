import { fail, ok, type Result } from '../result.ts';
import type { Raster } from '../shape/raster.ts';

/** The longest side that a laid-over picture may have. */
const longest = 8192;

/**
 * Size of a PNG by its header (W3C PNG 11.2.2). Fails for anything else, and for sizes that no output has a use for.
 */
export function pngSize(bytes: Uint8Array): Result<Raster> {
  const signature = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 33 || signature.some((byte, i) => bytes[i] !== byte) || view.getUint32(12) !== 0x49484452)
    return fail('It is no PNG', 'Save the picture as PNG and choose that');
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  if (width < 1 || height < 1 || width > longest || height > longest)
    return fail(`It is ${width}×${height}`, `Choose a picture of up to ${longest} samples each way`);
  return ok({ width, height });
}
