import module from './applyCube.wat';
import type { Lut3d } from './lut.ts';

/** What `applyCube.wat` gives. */
interface Assembled {
  memory: WebAssembly.Memory;
  apply(
    from: number,
    to: number,
    pixels: number,
    cube: number,
    size: number,
    steps: number,
    ...places: [number, number, number, number, number, number]
  ): void;
}

/** Samples that are put through at a time: with a cube of 33 they fit a processor's second cache. */
const lot = 16_384;

/** A larger cube would take memory that is never given back. */
export const largestBySimd = 65;

/** Made once; null where this machine, or the page's own policy, has no WebAssembly with vectors. */
let made: Assembled | null | undefined;

function assembled(): Assembled | null {
  if (made !== undefined) return made;
  try {
    made = new WebAssembly.Instance(new WebAssembly.Module(module)).exports as unknown as Assembled;
  } catch {
    made = null;
  }
  return made;
}

/** Memory for so many bytes, as floats. */
function floatsOf({ memory }: Assembled, bytes: number): Float32Array {
  const page = 65_536;
  const short = bytes - memory.buffer.byteLength;
  if (short > 0) memory.grow(Math.ceil(short / page));
  return new Float32Array(memory.buffer);
}

/**
 * A whole picture through a cube by vectors; R, G, B interleaved, `to` as long as `from`. False, and nothing written,
 * where that cannot be done here: then `applyCubePlainly` does it.
 */
export function applyCubeBySimd(
  { size, values, domainMin, domainMax }: Lut3d,
  from: Float32Array,
  to: Float32Array,
): boolean {
  const wasm = size <= largestBySimd ? assembled() : null;
  if (!wasm) return false;
  const cubeBytes = size ** 3 * 16;
  // Behind the last result there is room for a fourth float; behind that, for steps.
  const lotBytes = lot * 12 + 16;
  const [fromAt, toAt, steps] = [cubeBytes, cubeBytes + lotBytes, cubeBytes + 2 * lotBytes];
  const memory = floatsOf(wasm, steps + 16);
  for (let i = 0, at = 0; i < values.length; i += 3, at += 4) {
    memory[at] = values[i] as number;
    memory[at + 1] = values[i + 1] as number;
    memory[at + 2] = values[i + 2] as number;
    memory[at + 3] = 0;
  }
  const factor = (channel: 0 | 1 | 2): number => (size - 1) / (domainMax[channel] - domainMin[channel]);
  const [kr, kg, kb] = [factor(0), factor(1), factor(2)];
  const [or, og, ob] = [-domainMin[0] * kr, -domainMin[1] * kg, -domainMin[2] * kb];
  for (let done = 0; done < from.length; done += lot * 3) {
    const part = from.subarray(done, done + lot * 3);
    memory.set(part, fromAt / 4);
    wasm.apply(fromAt, toAt, part.length / 3, 0, size, steps, kr, kg, kb, or, og, ob);
    to.set(memory.subarray(toAt / 4, toAt / 4 + part.length), done);
  }
  return true;
}
