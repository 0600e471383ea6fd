/** A frame in full depth: planes of Y', Cb, Cr, 16 bits each in legal range, chroma as dense as luma. */
export interface Planes {
  width: number;
  height: number;
  /** By the names of ITU-T H.273. */
  matrix: string;
  planes: Uint16Array<ArrayBuffer>;
}

/** Reads a frame out of an answer: raw planes, their size and matrix in its head. */
export async function planesOf(response: Response): Promise<Planes> {
  const number = (name: string): number => Number(response.headers.get(name));
  return {
    width: number('x-width'),
    height: number('x-height'),
    matrix: response.headers.get('x-matrix') ?? 'bt709',
    planes: new Uint16Array(await response.arrayBuffer()),
  };
}
