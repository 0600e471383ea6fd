import type { Comparison, ComparedSide } from '@relay/contract/checks';
import { fromCodes } from '@relay/core/colour/ycbcr';
import type { Planes } from '../api/planes.ts';
import { edgedTexture, fillingProgram, uploadPlane } from '../ui/glProgram.ts';
import { surround } from '../ui/surround.ts';
import { pairShader } from './pairShader.ts';
import { lookings, type View } from './view.ts';

/** Left and right: what the output is held against, and the output. */
const sides = ['against', 'output'] as const;
export type SideName = (typeof sides)[number];

/** Draws two pictures in full depth on one plane with WebGL2. @throws Error where the graphics card cannot */
export class PairPicture {
  private readonly gl: WebGL2RenderingContext;
  private readonly program: WebGLProgram;
  private readonly planes: readonly WebGLTexture[][];
  private readonly at = new Map<string, WebGLUniformLocation | null>();
  /** Matrices of the frames that are shown; null before there is one. */
  private readonly matrices: (string | null)[] = sides.map(() => null);

  constructor(readonly canvas: HTMLCanvasElement) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
    if (!gl) throw new Error('this browser draws no WebGL2');
    this.gl = gl;
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    this.program = fillingProgram(gl, pairShader);
    this.planes = sides.map(() => [0, 1, 2].map(() => edgedTexture(gl, gl.TEXTURE_2D)));
    for (const texture of this.planes.flat()) {
      gl.bindTexture(gl.TEXTURE_2D, texture);
      uploadPlane(gl, 1, 1, new Uint16Array(1));
    }
  }

  /** Nothing but what surrounds pictures: a canvas that nobody drew on is black. */
  clear(): void {
    const { gl } = this;
    const [red, green, blue] = [1, 3, 5].map((at) => parseInt(surround.ground.slice(at, at + 2), 16) / 255);
    gl.clearColor(red as number, green as number, blue as number, 1);
    gl.clear(gl.COLOR_BUFFER_BIT);
  }

  /** Shows a frame in full depth at one side. */
  setStill(side: SideName, { width, height, matrix, planes }: Planes): void {
    const { gl } = this;
    const index = sides.indexOf(side);
    const size = width * height;
    this.planes[index]?.forEach((texture, plane) => {
      gl.activeTexture(gl.TEXTURE0);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      uploadPlane(gl, width, height, planes.subarray(plane * size, (plane + 1) * size));
    });
    this.matrices[index] = matrix;
  }

  private uniform(name: string): WebGLUniformLocation | null {
    const { gl, program, at } = this;
    if (!at.has(name)) at.set(name, gl.getUniformLocation(program, name));
    return at.get(name) ?? null;
  }

  private setSide(index: number, { box }: ComparedSide): void {
    const { gl } = this;
    const matrix = this.matrices[index] ?? null;
    ['luma', 'blue', 'red'].forEach((name, plane) => {
      const unit = index * 3 + plane;
      gl.activeTexture(gl.TEXTURE0 + unit);
      gl.bindTexture(gl.TEXTURE_2D, this.planes[index]?.[plane] as WebGLTexture);
      gl.uniform1i(this.uniform(`${name}[${index}]`), unit);
    });
    const { matrix: m, offset } = fromCodes(matrix ?? 'bt709');
    gl.uniformMatrix3fv(this.uniform(`toSignal[${index}]`), true, m);
    gl.uniform3fv(this.uniform(`offset[${index}]`), offset);
    gl.uniform1i(this.uniform(`there[${index}]`), matrix === null ? 0 : 1);
    gl.uniform4f(this.uniform(`box[${index}]`), box.x, box.y, box.width, box.height);
  }

  draw(comparison: Comparison, view: View): void {
    const { gl, canvas } = this;
    gl.viewport(0, 0, canvas.width, canvas.height);
    gl.useProgram(this.program);
    sides.forEach((side, index) => this.setSide(index, comparison[side]));
    gl.uniform2f(this.uniform('canvas'), canvas.width, canvas.height);
    gl.uniform2f(this.uniform('centre'), view.centre.x, view.centre.y);
    gl.uniform1f(this.uniform('scale'), view.scale);
    gl.uniform1i(this.uniform('smoothly'), view.smoothly ? 1 : 0);
    gl.uniform1i(this.uniform('mode'), lookings.indexOf(view.looking));
    gl.uniform1f(this.uniform('wipe'), view.wipe);
    gl.uniform1f(this.uniform('gain'), view.gain);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }
}
