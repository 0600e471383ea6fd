/** A triangle that covers everything. */
export const vertexShader = `#version 300 es
void main() { gl_Position = vec4(vec2(gl_VertexID & 1, gl_VertexID >> 1) * 4.0 - 1.0, 0.0, 1.0); }`;

/** A program that fills the canvas by a fragment shader. @throws Error where the graphics card cannot */
export function fillingProgram(gl: WebGL2RenderingContext, fragment: string): WebGLProgram {
  const made = gl.createProgram();
  for (const [kind, source] of [
    [gl.VERTEX_SHADER, vertexShader],
    [gl.FRAGMENT_SHADER, fragment],
  ] as const) {
    const shader = gl.createShader(kind);
    if (!shader) throw new Error('the graphics card makes no shader');
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
      throw new Error(gl.getShaderInfoLog(shader) ?? 'the shader does not compile');
    gl.attachShader(made, shader);
  }
  gl.linkProgram(made);
  if (!gl.getProgramParameter(made, gl.LINK_STATUS))
    throw new Error(gl.getProgramInfoLog(made) ?? 'the shaders do not fit');
  return made;
}

/** A texture that ends at its edges, read point by point. */
export function edgedTexture(gl: WebGL2RenderingContext, target: number): WebGLTexture {
  const made = gl.createTexture();
  gl.bindTexture(target, made);
  for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(target, name, gl.NEAREST);
  for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(target, name, gl.CLAMP_TO_EDGE);
  return made;
}

/** One plane of 16 bits into the texture that is bound. */
export function uploadPlane(gl: WebGL2RenderingContext, width: number, height: number, plane: Uint16Array): void {
  gl.texImage2D(gl.TEXTURE_2D, 0, gl.R16UI, width, height, 0, gl.RED_INTEGER, gl.UNSIGNED_SHORT, plane);
}
