import { fromCodes } from '@relay/core/colour/ycbcr';
import type { CubeData, FrameData } from './messages.ts';
import { edgedTexture, fillingProgram, uploadPlane } from '../ui/glProgram.ts';
import { pictureShader, probeShader } from './shader.ts';

export const modes = ['side by side', 'wipe', 'difference', 'before', 'after'] as const;
export type Mode = (typeof modes)[number];

/** What part of the picture is shown, and how. */
export interface View {
  mode: Mode;
  /** Sample in the middle of a pane. */
  centre: { x: number; y: number };
  /** Canvas dots to a sample, across and down. */
  scale: { x: number; y: number };
  wipe: number;
}

/** Triplets probed: a texture of this edge. */
const probeEdge = 32;

/** Draws frames through a cube with WebGL2. @throws Error where the graphics card cannot */
export class GlPicture {
  private readonly gl: WebGL2RenderingContext;
  private readonly picture: WebGLProgram;
  private readonly probe: WebGLProgram;
  private readonly planes: WebGLTexture[];
  private readonly cube: WebGLTexture;
  private readonly triplets: WebGLTexture;
  private frame: FrameData | null = null;
  private cubeData: CubeData | null = null;

  constructor(readonly canvas: HTMLCanvasElement) {
    const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, preserveDrawingBuffer: true });
    if (!gl?.getExtension('EXT_color_buffer_float')) throw new Error('no float textures to draw into');
    this.gl = gl;
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    this.picture = fillingProgram(gl, pictureShader);
    this.probe = fillingProgram(gl, probeShader);
    this.planes = [0, 1, 2].map(() => edgedTexture(gl, gl.TEXTURE_2D));
    this.triplets = edgedTexture(gl, gl.TEXTURE_2D);
    this.cube = edgedTexture(gl, gl.TEXTURE_3D);
    // A cube of two points stands in until there is one.
    gl.texImage3D(gl.TEXTURE_3D, 0, gl.RGBA32F, 2, 2, 2, 0, gl.RGBA, gl.FLOAT, new Float32Array(32));
  }

  setFrame(frame: FrameData): void {
    const { gl } = this;
    this.frame = frame;
    const size = frame.width * frame.height;
    this.planes.forEach((texture, n) => {
      gl.activeTexture(gl.TEXTURE0 + n);
      gl.bindTexture(gl.TEXTURE_2D, texture);
      uploadPlane(gl, frame.width, frame.height, frame.planes.subarray(n * size, (n + 1) * size));
    });
  }

  setCube(cube: CubeData | null): void {
    const { gl } = this;
    this.cubeData = cube;
    if (!cube) return;
    const { size, values } = cube;
    const rgba = new Float32Array(size ** 3 * 4);
    for (let i = 0, to = 0; i < values.length; i += 3, to += 4) rgba.set(values.subarray(i, i + 3), to);
    gl.activeTexture(gl.TEXTURE3);
    gl.bindTexture(gl.TEXTURE_3D, this.cube);
    gl.texImage3D(gl.TEXTURE_3D, 0, gl.RGBA32F, size, size, size, 0, gl.RGBA, gl.FLOAT, rgba);
  }

  private useCube(program: WebGLProgram): void {
    const { gl, cubeData } = this;
    const at = (name: string): WebGLUniformLocation | null => gl.getUniformLocation(program, name);
    gl.activeTexture(gl.TEXTURE3);
    gl.bindTexture(gl.TEXTURE_3D, this.cube);
    gl.uniform1i(at('cube'), 3);
    gl.uniform1i(at('points'), cubeData?.size ?? 2);
    gl.uniform3fv(at('domainMin'), cubeData?.domainMin ?? [0, 0, 0]);
    gl.uniform3fv(at('domainMax'), cubeData?.domainMax ?? [1, 1, 1]);
  }

  draw(view: View): void {
    const { gl, frame, canvas, picture } = this;
    if (!frame) return;
    gl.viewport(0, 0, canvas.width, canvas.height);
    gl.useProgram(picture);
    const at = (name: string): WebGLUniformLocation | null => gl.getUniformLocation(picture, name);
    ['luma', 'blue', 'red'].forEach((name, n) => {
      gl.activeTexture(gl.TEXTURE0 + n);
      gl.bindTexture(gl.TEXTURE_2D, this.planes[n] as WebGLTexture);
      gl.uniform1i(at(name), n);
    });
    this.useCube(picture);
    const { matrix: m, offset } = fromCodes(frame.matrix);
    gl.uniformMatrix3fv(at('toSignal'), true, m);
    gl.uniform3fv(at('offset'), offset);
    gl.uniform1i(at('hasCube'), this.cubeData ? 1 : 0);
    gl.uniform2f(at('canvas'), canvas.width, canvas.height);
    gl.uniform2f(at('frame'), frame.width, frame.height);
    gl.uniform2f(at('centre'), view.centre.x, view.centre.y);
    gl.uniform2f(at('scale'), view.scale.x, view.scale.y);
    gl.uniform1i(at('mode'), modes.indexOf(view.mode));
    gl.uniform1f(at('wipe'), view.wipe);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }

  /** Triplets through the cube as the graphics card computes it; as many as fit the probe. */
  through(values: Float32Array): Float32Array {
    const { gl } = this;
    const count = probeEdge ** 2;
    const padded = new Float32Array(count * 4);
    for (let i = 0; i < Math.min(count, values.length / 3); i += 1)
      padded.set(values.subarray(i * 3, i * 3 + 3), i * 4);
    gl.activeTexture(gl.TEXTURE4);
    gl.bindTexture(gl.TEXTURE_2D, this.triplets);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA32F, probeEdge, probeEdge, 0, gl.RGBA, gl.FLOAT, padded);
    const target = gl.createTexture();
    gl.activeTexture(gl.TEXTURE5);
    gl.bindTexture(gl.TEXTURE_2D, target);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA32F, probeEdge, probeEdge, 0, gl.RGBA, gl.FLOAT, null);
    const buffer = gl.createFramebuffer();
    gl.bindFramebuffer(gl.FRAMEBUFFER, buffer);
    gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
    gl.viewport(0, 0, probeEdge, probeEdge);
    gl.useProgram(this.probe);
    this.useCube(this.probe);
    gl.uniform1i(gl.getUniformLocation(this.probe, 'triplets'), 4);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    const out = new Float32Array(count * 4);
    gl.readPixels(0, 0, probeEdge, probeEdge, gl.RGBA, gl.FLOAT, out);
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    gl.deleteFramebuffer(buffer);
    gl.deleteTexture(target);
    const rgb = new Float32Array(values.length);
    for (let i = 0; i < values.length / 3; i += 1) rgb.set(out.subarray(i * 4, i * 4 + 3), i * 3);
    return rgb;
  }
}

/** Triplets all over the cube's domain and beyond, the same each time, for holding the graphics card against core. */
export function probeTriplets(): Float32Array {
  let state = 20_261_123;
  return Float32Array.from({ length: probeEdge ** 2 * 3 }, () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return (state / 2 ** 32) * 1.3 - 0.15;
  });
}
